import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';
import type { FileKind } from '../../text/file-kinds.ts';
import { partialsOf, templatesOf, kindOfFile } from '../../contents/templates.ts';
import { namesIn } from '../../templates/template.ts';
import { templateTarget } from '../../contents/serving.ts';

/** The places that can name a partial besides templates that include it. */
const NAMING: ReadonlySet<FileKind> = new Set(['markup', 'code', 'script', 'data']);

const advise = advices({
  'include-or-remove': 'include it where it is wanted, or remove it',
});

/** Partials that no template includes and no text of the theme names. */
export const partialUnused: Rule = {
  meta: {
    id: 'partial/unused',
    severity: 'note',
    tag: 'unused',
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
    const own = partialsOf(theme);
    if (own.length === 0 || theme.platform.contract.templates?.['any-page'] === true) return;
    const templates = chain.themes.flatMap((each) => [...templatesOf(each)]);
    const included = new Set(
      templates.flatMap(({ template, contract, path }) =>
        [...namesIn(template)].map((name) => {
          const target = templateTarget(chain, contract, name, path);
          return target?.kind === 'stranger' ? undefined : target?.path;
        }),
      ),
    );
    // Where a misspelled include asks for one that is not there, that is the place to fix.
    const known = new Set(chain.themes.flatMap((each) => each.tree.entries.map((entry) => entry.path)));
    if ([...included].some((path) => path !== undefined && !known.has(path))) return;
    const texts = chain.themes.flatMap((each) =>
      each.tree.entries.flatMap(({ kind, path }) =>
        kind === 'file' && NAMING.has(kindOfFile(each, path)) ? [each.source(path)?.text ?? ''] : [],
      ),
    );
    // A parent's template can include a partial that only its children have.
    for (const { path, name } of own) {
      if (included.has(path) || texts.some((text) => text.includes(`'${name}'`) || text.includes(`"${name}"`))) continue;
      yield { message: 'unused', args: { name }, file: path, hint: advise('include-or-remove') };
    }
  },
};
