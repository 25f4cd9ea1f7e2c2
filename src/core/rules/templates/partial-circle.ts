import { matchesAny } from '../../files/glob.ts';
import { shapePattern } from '../../platform/shape.ts';
import type { TextRange } from '../../text/edits.ts';
import { findInChain, type Chain } from '../../theme/chain.ts';
import type { Theme } from '../../theme/theme.ts';
import type { Rule } from '../rule.ts';

/** Partials that include themselves, directly or by way of others, with nothing between that could end it. */
export const partialCircle: Rule = {
  meta: {
    id: 'partial/circle',
    severity: 'error',
    summary: 'Partials include each other in a circle',
    why: 'The host includes them without an end and stops the page, or the server.',
    messages: { circle: 'the partial “{name}” includes itself: {way}' },
    example: {
      platform: 'vereda',
      wrong: { 'main.html': '{{> a}}\n', 'partials/a.html': '<p>{{> b}}</p>\n', 'partials/b.html': '<b>{{> b}}</b>\n' },
      right: { 'main.html': '{{> a}}\n', 'partials/a.html': '<p>{{> b}}</p>\n', 'partials/b.html': '<b></b>\n' },
    },
  },
  *check({ theme, chain }) {
    const partials = theme.platform.contract.templates?.partials;
    if (partials === undefined) return;
    const file = (name: string): string => partials.file.replace('{path}', name).replace('{name}', name);
    for (const { path } of theme.tree.entries) {
      const own = shapePattern(partials.file, {}, '').exec(path)?.groups;
      const name = own?.['path'] ?? own?.['name'];
      if (name === undefined || file(name) !== path) continue;
      for (const include of includesOf(theme, path)) {
        const way = wayBack(chain, include.name, name, file, [name]);
        if (way === undefined) continue;
        const source = theme.source(path);
        yield { message: 'circle', args: { name, way: way.join(' → ') }, file: path, source, range: include, hint: 'take the include out' };
      }
    }
  },
};

/** What a template includes outside sections: within one a list that comes to its end can stop the circle. */
function includesOf(theme: Theme, path: string): (TextRange & { name: string })[] {
  const { templates } = theme.platform.contract;
  const text = templates !== undefined && matchesAny(path, templates.files) ? theme.source(path)?.text : undefined;
  if (templates?.partials === undefined || text === undefined) return [];
  return [...text.matchAll(shapePattern(templates.partials.include))].flatMap((match) => {
    const before = text.slice(0, match.index);
    const open = (before.match(/\{\{[#^]/g)?.length ?? 0) - (before.match(/\{\{\//g)?.length ?? 0);
    const name = match.groups?.['path'] ?? match.groups?.['name'] ?? '';
    return open > 0 ? [] : [{ name, start: match.index, end: match.index + match[0].length }];
  });
}

function wayBack(
  chain: Chain,
  from: string,
  to: string,
  file: (name: string) => string,
  way: readonly string[],
): readonly string[] | undefined {
  if (from === to) return [...way, to];
  if (way.includes(from)) return undefined;
  const found = findInChain(chain, file(from));
  for (const include of found === undefined ? [] : includesOf(found.theme, found.path)) {
    const back = wayBack(chain, include.name, to, file, [...way, from]);
    if (back !== undefined) return back;
  }
  return undefined;
}
