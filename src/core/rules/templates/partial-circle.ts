import { findInChain, type Chain } from '../../theme/chain.ts';
import type { Theme } from '../../theme/theme.ts';
import { advices } from '../advice.ts';
import type { RelatedPlace, Rule } from '../rule.ts';
import { languageOf } from '../../templates/languages.ts';
import { partialAtPath } from '../../templates/template-index.ts';
import { templateTarget } from '../../contents/serving.ts';
import { partialsOf, templateAt, templatesOf } from '../../contents/templates.ts';
import type { Include } from '../../templates/template.ts';

const advise = advices({
  'take-include-out': 'take the include out',
});

/** Partials that include themselves, directly or by way of others, with nothing between that could end it. */
export const partialCircle: Rule = {
  meta: {
    id: 'partial/circle',
    severity: 'error',
    isSeen: true,
    summary: 'Partials include each other in a circle',
    why: 'The host includes them without an end and stops the page, or the server.',
    messages: { circle: 'the partial “{name}” includes itself: {way}', step: 'and this includes “{name}”' },
    example: {
      platform: 'vereda',
      wrong: { 'main.html': '{{> a}}\n', 'partials/a.html': '<p>{{> b}}</p>\n', 'partials/b.html': '<b>{{> b}}</b>\n' },
      right: { 'main.html': '{{> a}}\n', 'partials/a.html': '<p>{{> b}}</p>\n', 'partials/b.html': '<b></b>\n' },
    },
  },
  *check({ theme, chain }) {
    const { templates } = theme.platform.contract;
    // Where nobody can tell a condition from what is always shown, a circle may come to an end.
    if (templates?.partials === undefined || !languageOf(templates).knowsSections) return;
    const laidInto = [...templatesOf(theme)].filter(({ template }) => template.extends.length > 0);
    const own = [...new Set([...partialsOf(theme), ...laidInto].map(({ path }) => path))];
    const includes = onCircles(followIncludes(chain, own));
    const called = (path: string): string => partialAtPath(templates, path) ?? path;
    for (const path of own) {
      for (const include of includes.get(path) ?? []) {
        const way = wayTo(path, include.path, includes);
        if (way === undefined) continue;
        const source = theme.source(path);
        const args = { name: called(path), way: [path, ...way].map(called).join(' → ') };
        const related = stepsOf(way, includes, theme);
        yield { message: 'circle', args, file: path, source, range: include, related, hint: advise('take-include-out') };
      }
    }
  },
};

/** An include, where it stands, and the path of what it takes in. */
type Taken = Include & { readonly path: string; readonly by: { readonly theme: Theme; readonly path: string } };

/** By the path of a partial. */
type Includes = ReadonlyMap<string, readonly Taken[]>;

/** The partials that each partial includes, and what those include, as the chain serves them. */
function followIncludes(chain: Chain, paths: readonly string[]): Includes {
  const includes = new Map<string, readonly Taken[]>();
  const wanted = new Set(paths);
  // A loop over a set also visits what is added to it on the way.
  for (const path of wanted) {
    const found = findInChain(chain, path);
    const own = found === undefined ? [] : includesOf(chain, found.theme, found.path);
    includes.set(path, own);
    for (const include of own) wanted.add(include.path);
  }
  return includes;
}

/** Leaves out, again and again, what includes nothing that is left: what remains ends in a circle. */
function onCircles(includes: Includes): Includes {
  const includedBy = new Map<string, Set<string>>();
  for (const [path, own] of includes) {
    for (const include of own) includedBy.set(include.path, (includedBy.get(include.path) ?? new Set()).add(path));
  }
  const left = new Map([...includes].map(([path, own]) => [path, new Set(own.map((include) => include.path))]));
  const ends = [...left].filter(([, own]) => own.size === 0).map(([name]) => name);
  for (let end = ends.pop(); end !== undefined; end = ends.pop()) {
    left.delete(end);
    for (const name of includedBy.get(end) ?? []) {
      const own = left.get(name);
      own?.delete(end);
      if (own?.size === 0) ends.push(name);
    }
  }
  return new Map([...includes].filter(([name]) => left.has(name)).map(([name, own]) => [name, own.filter((each) => left.has(each.path))]));
}

/** The shortest way, by paths, from an included partial back to the one that includes it. */
function wayTo(goal: string, start: string, includes: Includes): string[] | undefined {
  const cameFrom = new Map<string, string | undefined>([[start, undefined]]);
  for (const name of cameFrom.keys()) {
    if (name === goal) {
      const way: string[] = [];
      for (let at: string | undefined = name; at !== undefined; at = cameFrom.get(at)) way.unshift(at);
      return way;
    }
    for (const include of includes.get(name) ?? []) if (!cameFrom.has(include.path)) cameFrom.set(include.path, name);
  }
  return undefined;
}

/** The includes on a way around, after the first one. */
function stepsOf(way: readonly string[], includes: Includes, own: Theme): RelatedPlace[] {
  return way.slice(1).flatMap((next, i): RelatedPlace[] => {
    const step = includes.get(way[i] ?? '')?.find(({ path }) => path === next);
    if (step === undefined) return [];
    const { name, start, end, by } = step;
    const theme = by.theme === own ? undefined : by.theme;
    return [{ message: 'step', args: { name }, theme, file: by.path, source: by.theme.source(by.path), range: { start, end } }];
  });
}

/** The partials that a template includes outside sections: within one a list that comes to its end can stop the circle. */
function includesOf(chain: Chain, theme: Theme, path: string): Taken[] {
  const placed = templateAt(theme, path);
  const taken = new Map<string, Taken>();
  const into = (placed?.template.extends ?? []).map((tag): Include => ({ ...tag, isGuarded: false }));
  for (const include of [...into, ...(placed?.template.includes ?? [])]) {
    // A second include of the same partial takes the same way.
    if (placed === undefined || include.isGuarded || taken.has(include.name)) continue;
    const target = templateTarget(chain, placed.contract, include.name, path);
    if (target?.kind !== 'found') continue;
    // The file of another theme that is named is not the one of that path which the chain serves.
    const isServed = target.id === undefined || findInChain(chain, target.path)?.theme.names.id === target.id;
    if (isServed) taken.set(include.name, { ...include, path: target.path, by: { theme, path } });
  }
  return [...taken.values()];
}
