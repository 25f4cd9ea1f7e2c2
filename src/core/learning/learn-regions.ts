import { plainValue, type MapNode, type ValueNode } from '../documents/syntax.ts';
import { matchesAny } from '../files/glob.ts';
import type { Learned, LearnedDocument, LearnedRegions } from './learned.ts';
import { readsOf } from './readers.ts';
import type { SampleTheme, ThemeSet } from './theme-set.ts';

/** A tag of any language of templates, on one line. */
const TAG =
  /\{\{\{?[^{}\n]{1,120}\}\}\}?|\{%[^%\n]{1,120}%\}|\[%[^%\n]{1,120}%\]|<%[^%\n]{1,120}%>|<\?[^?\n]{1,200}\?>|\{[^{}\s][^{}\n]{0,120}\}|<[a-z]+:[^<>\n]{1,120}>/g;
const WORD = /[A-Za-z_]\w*/g;
/** A share of the names at a key that templates have to print for them to be regions. */
const PRINTED = 0.8;

/** How regions are declared: as a list, as a map of names and labels, or as a map of roles, each with its own. */
type RegionKind = 'list' | 'map' | 'per-role';

/** A key of a document that lists or maps names, and a way to print one. */
interface Candidate {
  readonly document: LearnedDocument;
  readonly key: readonly string[];
  readonly kind: RegionKind;
  readonly themes: Set<SampleTheme>;
  names: number;
  /** By the shape of a tag, how many names it prints. */
  readonly printed: Map<string, number>;
}

/**
 * The regions that themes declare: names at one key of a document, nearly all of which templates print by one shape of tag. The key's
 * own entries then cease to be fields.
 */
export function learnRegions(
  set: ThemeSet,
  documents: readonly LearnedDocument[],
  templates: Learned['templates'],
): LearnedRegions | undefined {
  if (templates === undefined) return undefined;
  const globs = templates.files.map(({ glob }) => glob);
  const candidates = new Map<string, Candidate>();
  const known = new Map<SampleTheme, ReturnType<typeof tagsOf>>();
  for (const document of documents)
    for (const { theme, root } of readsOf(set, document)) {
      const lists = [...namesIn(root)];
      if (lists.length === 0) continue;
      const tags = known.get(theme) ?? tagsOf(set, theme, globs);
      known.set(theme, tags);
      for (const { key, kind, names } of lists) {
        const name = [document.path, ...key].join('\0');
        const candidate = candidates.get(name) ?? { document, key, kind, themes: new Set(), names: 0, printed: new Map() };
        candidate.themes.add(theme);
        candidate.names += names.length;
        for (const tag of names.flatMap((each) => [...(tags.get(each) ?? [])]))
          candidate.printed.set(tag, (candidate.printed.get(tag) ?? 0) + 1);
        candidates.set(name, candidate);
      }
    }
  const [best] = [...candidates.values()]
    .flatMap((candidate) => {
      const [first] = [...candidate.printed].sort(([a, x], [b, y]) => y - x || (a < b ? -1 : 1));
      const isCommon = candidate.themes.size >= Math.max(2, set.size / 4) && candidate.names >= 2 * candidate.themes.size;
      return first !== undefined && isCommon && first[1] >= PRINTED * candidate.names
        ? [{ ...candidate, shape: first[0], count: first[1] }]
        : [];
    })
    .sort((a, b) => b.count - a.count);
  if (best === undefined) return undefined;
  const { document, key, kind, shape, count, names, themes } = best;
  const isWithin = (other: readonly string[]): boolean => key.every((part, i) => other[i] === part);
  document.fields.splice(0, document.fields.length, ...document.fields.filter((field) => !isWithin(field.key)), {
    key,
    fact: 'regions',
    type: kind === 'list' ? 'list' : 'map',
    required: false,
    seen: { count: themes.size, of: document.seen.count },
    example: '',
    why: 'names of regions',
  });
  return { printed: shape, isPerRole: kind === 'per-role', seen: { count, of: names } };
}

/** Maps of texts, lists of words, and maps of such lists, whose names templates could print. */
function* namesIn(
  map: MapNode,
  above: readonly string[] = [],
): Generator<{ key: readonly string[]; kind: RegionKind; names: readonly string[] }> {
  for (const { key, value } of map.entries) {
    const path = [...above, key];
    const own = listOf(value);
    if (own.length > 0) yield { key: path, kind: value.kind === 'map' ? 'map' : 'list', names: own };
    if (value.kind !== 'map') continue;
    const within = value.entries.map((entry) => listOf(entry.value));
    if (within.length > 1 && within.every((names) => names.length > 0)) yield { key: path, kind: 'per-role', names: within.flat() };
    if (path.length < 2) yield* namesIn(value, path);
  }
}

/** The names in a flat list or map; none where one of them cannot be part of a tag. */
function listOf(node: ValueNode): string[] {
  const plain = plainValue(node);
  const isFlat = node.kind === 'map' && node.entries.every(({ value }) => value.kind === 'scalar');
  const names = Array.isArray(plain) ? plain.map(String) : isFlat ? node.entries.map(({ key }) => key) : [];
  return names.every((name) => /^[A-Za-z_]\w*$/.test(name)) ? names : [];
}

/** By a word, the shapes of the tags that hold it: with another word, which says that a region is printed. */
function tagsOf(set: ThemeSet, theme: SampleTheme, globs: readonly string[]): ReadonlyMap<string, ReadonlySet<string>> {
  const tags = new Map<string, Set<string>>();
  for (const { path, kind } of theme.tree.entries) {
    if (kind !== 'file' || !matchesAny(path, globs)) continue;
    for (const [tag] of (set.text(theme, path) ?? '').matchAll(TAG))
      for (const word of tag.matchAll(WORD)) {
        const shape = `${tag.slice(0, word.index)}{name}${tag.slice(word.index + word[0].length)}`.replace(/\s+/g, ' ');
        if (/[A-Za-z]{2}/.test(shape.replace('{name}', ''))) tags.set(word[0], (tags.get(word[0]) ?? new Set()).add(shape));
      }
  }
  return tags;
}
