import { compareText, folderOf, resolveInTree, withoutEnding, type FileTree } from '../files/file-tree.ts';
import type { FileAnalysis, FileMatch } from './analyse-file.ts';
import type { Breakage } from './breakage.ts';
import { isChange } from './match.ts';

/**
 * Whether what belongs together stays together: an identifier becomes the same wherever code uses it, a prefix that code completes
 * begins the identifiers that it began, and an address that led to a file of the theme leads to that file.
 * @param moves old path → new path
 */
export function agreementProblems(analyses: Iterable<FileAnalysis>, tree: FileTree, moves: ReadonlyMap<string, string>): Breakage[] {
  const uses: Use[] = [];
  const lost: Breakage[] = [];
  const places = new Set(tree.entries.map(({ path }) => moves.get(path) ?? path));
  let stems: ReadonlyMap<string, string> | undefined;
  const byStem = (): ReadonlyMap<string, string> => (stems ??= new Map(tree.entries.map(({ path }) => [withoutEnding(path), path])));
  for (const { path, matches } of analyses)
    for (const match of matches) {
      if (match.inCode !== undefined) uses.push(...useOf(path, match));
      const problem = match.address === undefined ? undefined : lostAddress(path, match, match.address, { tree, moves, places, byStem });
      if (problem !== undefined) lost.push(problem);
    }
  return [...partedUses(uses), ...partedPrefixes(uses), ...lost];
}

interface Places {
  readonly tree: FileTree;
  readonly moves: ReadonlyMap<string, string>;
  /** All paths afterward. */
  readonly places: ReadonlySet<string>;
  /** The paths before, by themselves without their endings. */
  readonly byStem: () => ReadonlyMap<string, string>;
}

interface Use {
  readonly before: string;
  readonly after: string;
  readonly place: Breakage;
}

/** Of what is changed, or may have to be: what others own is not meant. */
function useOf(file: string, match: FileMatch): Use[] {
  const { inCode, line, column } = match;
  if (inCode === undefined || !(isChange(match) || match.kind === 'unsure' || isOfLine(match))) return [];
  const { before, after } = inCode;
  return [{ before, after: isChange(match) ? after : before, place: { file, line, column, text: '' } }];
}

/** Kept for what its line says, though code cannot be a credit or a link. */
function isOfLine({ reason, inCode }: FileMatch): boolean {
  return inCode?.isCode === true && (reason?.group === 'link' || reason?.group === 'credit');
}

function partedUses(uses: readonly Use[]): Breakage[] {
  const first = new Map<string, Use>();
  const problems = new Map<string, Breakage>();
  for (const use of uses) {
    const known = first.get(use.before);
    if (known === undefined) first.set(use.before, use);
    else if (known.after !== use.after && !problems.has(use.before)) {
      const [a, b] = [known, use];
      const text = `“${use.before}” would be ${b.after} here, and ${a.after} in ${a.place.file}:${a.place.line}:${a.place.column}`;
      problems.set(use.before, { ...use.place, text });
    }
  }
  return [...problems.values()];
}

/** `albar_` completes to `albar_menu`: what becomes of the one must begin what becomes of the other. */
function partedPrefixes(uses: readonly Use[]): Breakage[] {
  const prefixes = new Map(uses.filter(({ before }) => /[-_]$/.test(before)).map((use) => [use.before, use]));
  if (prefixes.size === 0) return [];
  const names = [...new Map(uses.filter(({ before }) => !/[-_]$/.test(before)).map((use) => [use.before, use])).values()];
  // In order, so that what begins alike stands together.
  names.sort((a, b) => compareText(a.before, b.before));
  return [...prefixes.values()].flatMap(({ before, after, place }) => {
    let other: Use | undefined;
    for (let i = firstFrom(names, before); other === undefined && names[i]?.before.startsWith(before) === true; i++)
      if (names[i]?.after.startsWith(after) === false) other = names[i];
    return other === undefined
      ? []
      : [{ ...place, text: `“${before}” would be ${after} here, and no longer begin what ${other.before} becomes: ${other.after}` }];
  });
}

/** The index of the first of sorted names that does not stand before a text. */
function firstFrom(names: readonly Use[], text: string): number {
  let low = 0;
  let high = names.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (compareText(names[middle]?.before ?? '', text) < 0) low = middle + 1;
    else high = middle;
  }
  return low;
}

function lostAddress(
  file: string,
  { line, column }: FileMatch,
  address: { readonly before: string; readonly after: string },
  { tree, moves, places, byStem }: Places,
): Breakage | undefined {
  const before = targets(file, address.before);
  const whole = before.find((path) => tree.get(path) !== undefined);
  // `./albar-url` is surely a path: code may leave the ending out.
  const led = whole ?? (/^\.\.?\//.test(address.before) ? byStem().get(before[0] ?? '') : undefined);
  if (led === undefined) return undefined;
  const now = moves.get(led) ?? led;
  const leads = targets(moves.get(file) ?? file, address.after);
  if (leads.includes(whole === undefined ? withoutEnding(now) : now) || leads.some((path) => places.has(path))) return undefined;
  return {
    file,
    line,
    column,
    text: `“${address.after}” would lead nowhere: ${led} is ${now === led ? 'not renamed' : `called ${now}`} afterward`,
  };
}

/** The paths that an address can lead to: from its file's folder, and from the theme's. */
function targets(file: string, address: string): string[] {
  const [path = ''] = address.split(/[?#]/);
  const plain = path.replace(/[./]+$/, '');
  return [resolveInTree(folderOf(file), plain), resolveInTree('', plain.replace(/^\/+/, ''))].filter(
    (each) => each !== undefined && each !== '',
  ) as string[];
}
