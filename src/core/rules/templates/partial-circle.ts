import { findInChain, type Chain } from '../../theme/chain.ts';
import type { Theme } from '../../theme/theme.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';
import { languageOf } from '../../templates/languages.ts';
import { pathOfPartial } from '../../templates/template-index.ts';
import { partialsOf, templateAt } from '../../theme/templates.ts';
import type { Include } from '../../templates/template.ts';

/** Partials that include themselves, directly or by way of others, with nothing between that could end it. */
export const partialCircle: Rule = {
  meta: {
    id: 'partial/circle',
    severity: 'error',
    isSeen: true,
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
    const { templates } = theme.platform.contract;
    // Where nobody can tell a condition from what is always shown, a circle may come to an end.
    if (templates?.partials === undefined || !languageOf(templates).knowsSections) return;
    const file = (name: string): string => pathOfPartial(templates, name) ?? '';
    const own = partialsOf(theme).map(({ name }) => name);
    const includes = onCircles(followIncludes(chain, own, file));
    for (const name of own) {
      for (const include of includes.get(name) ?? []) {
        const way = wayTo(name, include.name, includes);
        if (way === undefined) continue;
        const path = file(name);
        const source = theme.source(path);
        const args = { name, way: [name, ...way].join(' → ') };
        yield { message: 'circle', args, file: path, source, range: include, hint: advise('take-include-out') };
      }
    }
  },
};

type Includes = ReadonlyMap<string, readonly Include[]>;

/** What each partial includes, and what those include, as the chain serves them. */
function followIncludes(chain: Chain, names: readonly string[], file: (name: string) => string): Includes {
  const includes = new Map<string, readonly Include[]>();
  const wanted = new Set(names);
  // What is added to a set while it is gone through is gone through too.
  for (const name of wanted) {
    const found = findInChain(chain, file(name));
    const own = found === undefined ? [] : includesOf(found.theme, found.path);
    includes.set(name, own);
    for (const include of own) wanted.add(include.name);
  }
  return includes;
}

/** Leaves out, again and again, what includes nothing that is left: what remains ends in a circle. */
function onCircles(includes: Includes): Includes {
  const includedBy = new Map<string, Set<string>>();
  for (const [name, own] of includes) {
    for (const include of own) includedBy.set(include.name, (includedBy.get(include.name) ?? new Set()).add(name));
  }
  const left = new Map([...includes].map(([name, own]) => [name, new Set(own.map((include) => include.name))]));
  const ends = [...left].filter(([, own]) => own.size === 0).map(([name]) => name);
  for (let end = ends.pop(); end !== undefined; end = ends.pop()) {
    left.delete(end);
    for (const name of includedBy.get(end) ?? []) {
      const own = left.get(name);
      own?.delete(end);
      if (own?.size === 0) ends.push(name);
    }
  }
  return new Map([...includes].filter(([name]) => left.has(name)).map(([name, own]) => [name, own.filter((each) => left.has(each.name))]));
}

/** The shortest way from an included partial back to the one that includes it. */
function wayTo(goal: string, start: string, includes: Includes): string[] | undefined {
  const cameFrom = new Map<string, string | undefined>([[start, undefined]]);
  for (const name of cameFrom.keys()) {
    if (name === goal) {
      const way: string[] = [];
      for (let at: string | undefined = name; at !== undefined; at = cameFrom.get(at)) way.unshift(at);
      return way;
    }
    for (const include of includes.get(name) ?? []) if (!cameFrom.has(include.name)) cameFrom.set(include.name, name);
  }
  return undefined;
}

/** What a template includes outside sections: within one a list that comes to its end can stop the circle. */
function includesOf(theme: Theme, path: string): Include[] {
  return (templateAt(theme, path)?.template.includes ?? []).filter(({ isGuarded }) => !isGuarded);
}
