import { wholePattern, shapePattern } from '../../platform/shape.ts';
import type { Rule } from '../rule.ts';

/** Partials that no template includes and no text of the theme names. */
export const partialUnused: Rule = {
  meta: {
    id: 'partial/unused',
    severity: 'note',
    summary: 'A partial is never included',
    why: 'Whoever carries the theme on changes it and wonders why nothing happens.',
    messages: { unused: 'no template includes the partial “{name}”' },
    example: {
      platform: 'vereda',
      wrong: { 'partials/forgotten.html': '<p>{{page.title}}</p>\n' },
      right: { 'partials/note.html': '<p>{{page.title}}</p>\n', 'main.html': '{{> note}}\n' },
    },
  },
  *check({ theme, chain }) {
    const partials = theme.platform.contract.templates?.partials;
    if (partials === undefined) return;
    const pattern = wholePattern(partials.file);
    const own = theme.tree.entries.flatMap(({ kind, path }) => {
      const groups = kind === 'file' ? pattern.exec(path)?.groups : undefined;
      const name = groups?.['path'] ?? groups?.['name'];
      return name === undefined ? [] : [{ path, name }];
    });
    if (own.length === 0) return;
    const texts = chain.themes.flatMap((each) =>
      each.tree.entries.flatMap(({ kind, path }) =>
        kind === 'file' && /\.(?:html?|php|m?js|ya?ml)$/.test(path) ? [each.source(path)?.text ?? ''] : [],
      ),
    );
    const included = new Set(
      texts.flatMap((text) =>
        [...text.matchAll(shapePattern(partials.include))].map((match) => match.groups?.['path'] ?? match.groups?.['name']),
      ),
    );
    // Where a misspelt include asks for one that is not there, that is what to mend.
    const known = new Set(chain.themes.flatMap((each) => each.tree.entries.map((entry) => entry.path)));
    const isMisspelt = [...included].some((name = '') => !known.has(partials.file.replace('{path}', name).replace('{name}', name)));
    if (isMisspelt) return;
    // A parent's template can include a partial that only its children have.
    for (const { path, name } of own) {
      if (included.has(name) || texts.some((text) => text.includes(`'${name}'`) || text.includes(`"${name}"`))) continue;
      yield { message: 'unused', args: { name }, file: path, hint: 'include it where it is wanted, or remove it' };
    }
  },
};
