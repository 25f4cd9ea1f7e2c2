import { posix } from 'node:path';
import { followLinks, folderOf } from '../../files/file-tree.ts';
import { fillShape } from '../../names/shape.ts';
import { referencesIn } from '../../contents/references.ts';
import type { Theme } from '../../theme/theme.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'write-from-theme': 'write it from where the theme lies',
});

/** Addresses of the theme's own files that start at the root of the site. */
export const assetAbsolute: Rule = {
  meta: {
    id: 'asset/absolute',
    severity: 'warning',
    isSeen: true,
    summary: 'A file of the theme is addressed from the root of the site',
    why: 'A site in a folder, or keeps its themes elsewhere, does not find it.',
    messages: { absolute: '“{target}” starts at the root of the site, not at the theme’s' },
    example: {
      platform: 'vereda',
      wrong: {
        'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\n---*/\nbody { background: url("/themes/cierzo/hut.svg"); }\n',
        'hut.svg': '<svg xmlns="http://www.w3.org/2000/svg"/>\n',
      },
      right: {
        'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\n---*/\nbody { background: url("hut.svg"); }\n',
        'hut.svg': '<svg xmlns="http://www.w3.org/2000/svg"/>\n',
      },
    },
  },
  *checkText(source, { theme }) {
    const root = theme.platform.contract.assets['theme-root'];
    for (const { reference, path, isSheet } of referencesIn(theme, source)) {
      const { start, target } = reference;
      // Where a template's addresses start at the theme with the same sign, they are what the host reads.
      if (!isSheet && root !== undefined && target.startsWith(root)) continue;
      const own = ownFile(theme, target);
      if (own === undefined) continue;
      const better = isSheet ? posix.relative(folderOf(path), own.file) : root === undefined ? undefined : root + own.file;
      const end = start + addressOf(target).length;
      yield {
        message: 'absolute',
        args: { target },
        file: path,
        source,
        range: reference,
        hint: better === undefined ? advise('write-from-theme') : advise('write', { value: better }),
        fix:
          better === undefined || !own.isThere
            ? undefined
            : { title: advise('write', { value: better }), isSafe: own.isSure, file: path, edits: [{ start, end, text: better }] },
      };
    }
  },
};

/** An address without its query and fragment. */
function addressOf(target: string): string {
  return target.replace(/[?#].*$/s, '');
}

/**
 * The file of the theme that an address from the site's root leads to: by the theme's place in a host, or by its own path,
 * which the site may have a file of too.
 */
function ownFile({ platform, names, tree }: Theme, target: string): { file: string; isThere: boolean; isSure: boolean } | undefined {
  if (!/^\/[^/]/.test(target)) return undefined;
  const path = addressOf(target).slice(1);
  const home = `${fillShape(platform.contract.home, names)}/`;
  const isSure = path.startsWith(home);
  const file = isSure ? path.slice(home.length) : path;
  const isThere = followLinks(tree, file)?.kind === 'file';
  return isSure || isThere ? { file, isThere, isSure } : undefined;
}
