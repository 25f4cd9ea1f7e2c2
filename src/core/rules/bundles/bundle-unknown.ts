import { nearest } from '../../text/nearest.ts';
import { bundleNames } from '../../contents/bundle-names.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'add-or-drop-name': 'add {what}, or take the name out',
});

/** Bundles that a document asks for and no theme of the chain defines. */
export const bundleUnknown: Rule = {
  meta: {
    id: 'bundle/unknown',
    severity: 'error',
    isOfOneFile: true,
    isSeen: true,
    summary: 'A bundle is asked for and not defined',
    why: 'The host loads nothing in its place: pages come without these styles and scripts.',
    messages: { unknown: '“{name}” is not a bundle: there is no {file}{chain}' },
    example: {
      platform: 'cordada',
      wrong: { 'cierzo.cordada.yaml': 'title: Cierzo\nis: theme\nhosts: ">=4"\nbase: none\nload: [bse]\n' },
      right: { 'cierzo.cordada.yaml': 'title: Cierzo\nis: theme\nhosts: ">=4"\nbase: none\nload: [base]\n' },
    },
  },
  *check({ theme, chain }) {
    const { bundles, assets } = theme.platform.contract;
    const fact = assets['bundles-fact'] === undefined ? undefined : theme.fact(assets['bundles-fact']);
    if (bundles === undefined || fact?.node.kind !== 'list' || chain.broken !== undefined) return;
    const known = bundleNames(chain);
    for (const item of fact.node.items) {
      const name = item.kind === 'scalar' ? String(item.value) : '';
      if (known.has(name)) continue;
      const near = nearest(name, known);
      const file = bundles.file.replace('{name}', name);
      yield {
        message: 'unknown',
        args: { name, file, chain: chain.themes.length > 1 ? ', here or in a parent' : '' },
        file: fact.document.path,
        source: fact.document.source,
        range: item,
        hint: near === undefined ? advise('add-or-drop-name', { what: file }) : advise('did-you-mean', { near }),
      };
    }
  },
};
