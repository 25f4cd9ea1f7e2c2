import { compareText } from '../files/file-tree.ts';
import { isInThirdPartyFolder, kindOfPath } from '../text/file-kinds.ts';
import { findClassBodies, findZones, zoneAt } from '../text/zones.ts';
import { spelledIds } from './id-shapes.ts';
import type { LearnedIdentifier } from './learned.ts';
import { globOf, ThemeSet, type SampleTheme } from './theme-set.ts';

/** A name that code declares, by the words before it: `final class Albar` is a name declared by `final class {name}`. */
interface Declared {
  readonly theme: SampleTheme;
  readonly name: string;
}

/** The words by which languages declare names that others can ask for. */
const DECLARATION =
  /^[ \t]*((?:(?:final|abstract|export|public|async)[ \t]+)*(?:function|class|interface|trait|def|sub|proc|fn))[ \t]+([A-Za-z_]\w*)/gm;
/** A constant that a function defines. */
const DEFINITION = /^[ \t]*(define)\(\s*["']([A-Za-z_]\w*)["']/gm;
/** Themes that declare something, and declarations, from which a habit shows. */
const FEWEST = 3;
/** So many declarations of one theme show its habits. */
const ENOUGH = 300;

/**
 * Names in code that carry the theme's id in nearly all themes, in one spelling: all themes of the host share the space that they are
 * declared in.
 */
export function learnIdentifiers(set: ThemeSet): LearnedIdentifier[] {
  const groups = new Map<string, Declared[]>();
  for (const theme of set.themes)
    for (const { group, name } of declaredBy(set, theme)) {
      const known = groups.get(group);
      if (known === undefined) groups.set(group, [{ theme, name }]);
      else known.push({ theme, name });
    }
  return [...groups]
    .sort(([a], [b]) => compareText(a, b))
    .flatMap(([group, all]) => {
      const themes = new Set(all.map(({ theme }) => theme)).size;
      const [glob = '', declared = ''] = group.split('\0');
      const shape = themes < FEWEST || themes < set.size / 4 ? undefined : shapeOf(all);
      return shape === undefined ? [] : [{ files: [glob], declared, ...shape }];
    });
}

function* declaredBy(set: ThemeSet, theme: SampleTheme): Generator<{ group: string; name: string }> {
  let found = 0;
  for (const { path, kind } of theme.tree.entries) {
    if (found >= ENOUGH) return;
    if (kind !== 'file' || isInThirdPartyFolder(path) || !['code', 'script'].includes(kindOfPath(path))) continue;
    const text = set.text(theme, path);
    if (text === undefined) continue;
    const zones = findZones(path, text);
    const classes = findClassBodies(text, zones);
    // A file at the top has a name that the host knows; files in a folder are one place: hooks.php, but lib/*.php.
    const glob = path.includes('/') ? globOf(path) : path;
    for (const pattern of [DECLARATION, DEFINITION])
      for (const match of text.matchAll(pattern)) {
        const [, words = '', name = ''] = match;
        const at = match.index + match[0].lastIndexOf(name);
        const isMember = classes.some(({ start, end }) => start <= at && at < end);
        if (isMember || zoneAt(zones, match.index + match[0].indexOf(words)) !== 'code') continue;
        found += 1;
        yield {
          group: `${glob}\0${words.replace(/\s+/g, ' ')}${words === 'define' ? "('{name}'" : ` {name}${words.endsWith('function') ? '(' : ''}`}`,
          name,
        };
      }
  }
}

/** The shape that nearly all names have, in nearly all themes; undefined where they carry the id as they like, or not at all. */
function shapeOf(all: readonly Declared[]): Pick<LearnedIdentifier, 'shape' | 'seen'> | undefined {
  const counts = new Map<string, { names: number; themes: Set<SampleTheme> }>();
  for (const { name, theme } of all)
    for (const shape of shapesOfName(name, theme.id)) {
      const known = counts.get(shape) ?? { names: 0, themes: new Set() };
      known.names += 1;
      known.themes.add(theme);
      counts.set(shape, known);
    }
  const having = new Set(all.map(({ theme }) => theme)).size;
  const fitting = [...counts].filter(([, { names, themes }]) => ThemeSet.isNeeded(names, all.length) && themes.size >= having * 0.9);
  // Of several that fit as many, the first: the commonest spelling, and what says most of the name.
  const [best] = fitting.sort(([, a], [, b]) => b.names - a.names);
  return best === undefined ? undefined : { shape: best[0], seen: { count: best[1].names, of: all.length } };
}

/** Every shape that a name can have: the id in a spelling, alone, or with something before or behind it. */
function shapesOfName(name: string, id: string): string[] {
  // A name in code cannot hold all that an id can: the id as it is comes last.
  const [asIs, ...spelled] = spelledIds(id);
  const shapes = [...spelled, ...(asIs === undefined ? [] : [asIs])].flatMap(({ placeholder, text }) => {
    if (text.length < 2) return [];
    if (name === text) return [placeholder];
    if (name.startsWith(`${text}_`)) return [`${placeholder}_{name}`];
    if (name.endsWith(`_${text}`)) return [`{name}_${placeholder}`];
    return name.startsWith(text) && /^[A-Z]/.test(name.slice(text.length))
      ? [`${placeholder}${name.slice(text.length)}`, `${placeholder}{name}`]
      : [];
  });
  return [...new Set(shapes)];
}
