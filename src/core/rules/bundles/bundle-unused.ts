import { wholePattern } from '../../names/shape.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Bundles that are defined and that nothing asks for. */
export const bundleUnused: Rule = {
  meta: {
    id: 'bundle/unused',
    severity: 'note',
    tag: 'unused',
    summary: 'A bundle is defined and never asked for',
    why: 'Its styles and scripts are in the theme and are loaded on no page.',
    messages: { unused: 'nothing asks for the bundle “{name}”' },
    example: {
      platform: 'cordada',
      wrong: { 'bundles/print.yaml': 'sheets: [css/print.css]\n', 'css/print.css': 'p { margin: 0 }\n' },
      right: {
        'bundles/print.yaml': 'sheets: [css/print.css]\n',
        'css/print.css': 'p { margin: 0 }\n',
        'cierzo.cordada.yaml': 'title: Cierzo\nis: theme\nhosts: ">=4"\nbase: none\nload: [print]\n',
      },
    },
  },
  *check({ theme, chain }) {
    const { bundles } = theme.platform.contract;
    if (bundles === undefined || chain.broken !== undefined) return;
    const pattern = wholePattern(bundles.file);
    for (const { path } of theme.tree.entries) {
      const name = pattern.exec(path)?.groups?.['name'];
      if (name === undefined) continue;
      const word = new RegExp(`(?<![\\w-])${name.replace(/[^\w]/g, '\\$&')}(?![\\w-])`);
      const isNamed = chain.themes.some((each) =>
        each.tree.entries.some(
          (entry) => entry.kind === 'file' && !(each === theme && entry.path === path) && word.test(each.source(entry.path)?.text ?? ''),
        ),
      );
      if (!isNamed) yield { message: 'unused', args: { name }, file: path, hint: advise('load-or-remove') };
    }
  },
};
