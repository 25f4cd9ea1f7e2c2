import { followLinks } from '../../files/file-tree.ts';
import { mainSheets } from '../../contents/sheets.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** A theme without the stylesheet that the host loads by itself. */
export const assetMainSheet: Rule = {
  meta: {
    id: 'asset/main-sheet',
    severity: 'warning',
    isSeen: true,
    summary: 'The stylesheet that the host loads by itself is missing',
    why: 'Nothing else loads a stylesheet on every page: the site shows without colors, without columns, as bare text.',
    messages: { missing: '{path} is missing: pages are shown unstyled' },
    example: { platform: 'horquilla', wrong: { 'style/look.css': null }, right: {} },
  },
  *check({ theme, chain }) {
    const path = theme.platform.contract.assets['main-sheet'];
    if (path === undefined || chain.broken !== undefined || followLinks(theme.tree, path) !== undefined) return;
    // One that is the manifest too has a finding of its own; and a parent's may serve.
    if (theme.documents.some((document) => document.path === path) || mainSheets(chain).length > 0) return;
    const near = theme.tree.entries.find((entry) => entry.path.toLowerCase() === path.toLowerCase())?.path;
    yield {
      message: 'missing',
      args: { path },
      file: path,
      hint: near === undefined ? advise('add', { what: path }) : advise('rename', { from: near, to: path }),
    };
  },
};
