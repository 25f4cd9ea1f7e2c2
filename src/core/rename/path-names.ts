import { RefusedError } from '../errors.ts';
import { baseOf, folderOf, type FileTree, isInFolder } from '../files/file-tree.ts';
import { matchesAny } from '../files/glob.ts';
import { namedPaths, type Platform } from '../platform/platform.ts';
import { fillShape, wholePattern } from '../names/shape.ts';
import { placeKey, type Decisions } from './decisions.ts';
import { isWanted, type Matching, type NamePair } from './matching.ts';
import { isEnding } from './moved-paths.ts';
import type { FullName } from '../names/full-name.ts';
import type { Occurrence } from '../names/name-finder.ts';
import { splitWords } from '../names/spelling.ts';
import { respell } from './respell.ts';
import type { Reason, ReasonCode } from './reason.ts';

/** A name of a file or folder that holds the old name and keeps it, or may have to. */
export interface StayingName {
  /** The path before the rename. */
  readonly path: string;
  readonly kind: 'kept' | 'unsure';
  readonly reason: Reason;
  /** The new name; undefined when that is unknown. */
  readonly replacement: string | undefined;
}

export interface PlannedMoves {
  /** Old path → new path, of all that lies elsewhere afterward. */
  readonly moves: ReadonlyMap<string, string>;
  readonly staying: readonly StayingName[];
}

/**
 * Decides which files and folders get another name.
 * @param foreign files of others: their names are theirs as well
 * @throws RefusedError when two of them would get the same
 */
export function planMoves(
  tree: FileTree,
  platform: Platform,
  from: FullName,
  matching: Matching,
  decisions: Decisions,
  foreign: ReadonlySet<string> = new Set(),
): PlannedMoves {
  const moves = new Map<string, string>();
  const staying: StayingName[] = [];
  const taken = new Map<string, string>();
  const known = new KnownPaths(
    platform,
    from,
    tree.entries.map(({ path }) => path),
    foreign,
  );
  for (const { path, kind } of tree.entries) {
    const part = renamePart(path, matching, known, kind === 'folder');
    const decision = decisions.get(placeKey(path, { line: 0, column: 0 }));
    const isDone = decision === undefined ? part.staying === undefined : decision !== null;
    const name = decision === undefined ? part.name : (decision ?? baseOf(path));
    if (!isDone && part.staying !== undefined) staying.push({ path, ...part.staying });
    // Entries are sorted, so a folder comes before what lies in it.
    const folder = moves.get(folderOf(path)) ?? folderOf(path);
    const twin = kind === 'folder' && name !== baseOf(path) ? begunFolder(tree, folderOf(path), matching) : undefined;
    const called = twin ?? name;
    const renamed = folder === '' ? called : `${folder}/${called}`;
    if (renamed !== path) moves.set(path, renamed);
    const rival = taken.get(renamed);
    // A folder of which a part was moved by hand: what lies in both is put together.
    const isMerged = kind === 'folder' && rival !== undefined && tree.get(rival)?.kind === 'folder';
    if (rival !== undefined && !isMerged) {
      throw new RefusedError({
        what: `${rival} and ${path} would both become ${renamed}`,
        hint: 'choose another name, or move one of them first',
      });
    }
    taken.set(renamed, path);
  }
  return { moves, staying: [...staying, ...collisionsByCase(tree, moves)] };
}

/** A folder beside a renamed one that has the new name already, in whatever spelling. */
function begunFolder(tree: FileTree, folder: string, { begun }: Matching): string | undefined {
  if (begun === undefined) return undefined;
  const words = splitWords(begun).join(' ');
  const beside = tree.entries.filter(({ kind, path }) => kind === 'folder' && folderOf(path) === folder);
  return beside.map(({ path }) => baseOf(path)).find((name) => splitWords(name).join(' ') === words);
}

/** Names that were different on every system and now differ only by case. */
function collisionsByCase(tree: FileTree, moves: ReadonlyMap<string, string>): StayingName[] {
  if (moves.size === 0) return [];
  const byFolded = new Map<string, string>();
  const found: StayingName[] = [];
  for (const { path } of tree.entries) {
    const renamed = moves.get(path) ?? path;
    const rival = byFolded.get(renamed.toLowerCase());
    byFolded.set(renamed.toLowerCase(), path);
    // Two folders that become one are not twins.
    if (rival !== undefined && renamed === (moves.get(rival) ?? rival)) continue;
    if (rival === undefined || rival.toLowerCase() === path.toLowerCase() || folderOf(renamed) !== folderOf(moves.get(rival) ?? rival))
      continue;
    const reason: Reason = { code: 'case-twin', about: baseOf(moves.get(rival) ?? rival) };
    found.push({ path, kind: 'unsure', reason, replacement: undefined });
  }
  return found;
}

/** Renames the last part of a path. Others' names, longer words and names that the host gives stay. */
export function renamePart(
  path: string,
  matching: Matching,
  known: KnownPaths,
  isFolder = false,
): { name: string; staying: Omit<StayingName, 'path'> | undefined } {
  const part = baseOf(path);
  const others = [...matching.others.find(part), ...matching.keep.find(path, part)];
  let staying: Omit<StayingName, 'path'> | undefined;
  let name = '';
  let proposed = '';
  let at = 0;
  for (const { pair, occurrence } of occurrencesIn(part, matching)) {
    const other = others.find((each) => each.start <= occurrence.start && occurrence.end <= each.end);
    const own: Reason | undefined = known.isForeign(path)
      ? { code: 'third-party' }
      : !isFolder && known.isHosts(path)
        ? { code: 'host' }
        : isEnding(part, occurrence)
          ? { code: 'ending' }
          : undefined;
    const reason: Reason | undefined =
      other?.reason ?? own ?? (occurrence.edges === 'inside-word' ? { code: 'longer-word', about: part } : undefined);
    const replacement = respell(occurrence, pair, { text: part, zone: 'path', file: '', isModule: known.isModule(path) });
    const doubt: ReasonCode | undefined = replacement === undefined ? 'no-spelling' : known.doubt(path, occurrence, pair);
    const isIncluded = doubt !== undefined && replacement !== undefined && matching.includes(part, occurrence);
    const change = reason === undefined && (doubt === undefined || isIncluded) ? replacement : undefined;
    const between = part.slice(at, occurrence.start);
    name += between + (change ?? occurrence.text);
    proposed += between + (reason === undefined ? (replacement ?? occurrence.text) : occurrence.text);
    at = occurrence.end;
    if (change !== undefined) continue;
    const isKept = reason !== undefined || doubt === 'host';
    staying = { kind: isKept ? 'kept' : 'unsure', reason: reason ?? { code: doubt ?? 'not-told' }, replacement: undefined };
  }
  name += part.slice(at);
  proposed += part.slice(at);
  return { name, staying: staying === undefined ? undefined : { ...staying, replacement: proposed === name ? undefined : proposed } };
}

function* occurrencesIn(part: string, { pairs }: Matching): Generator<{ pair: NamePair; occurrence: Occurrence }> {
  let end = 0;
  const all = pairs
    .filter((pair) => pair.sort !== 'title')
    .flatMap((pair) =>
      pair.finder
        .find(part)
        .filter((occurrence) => isWanted(pair, occurrence))
        .map((occurrence) => ({ pair, occurrence })),
    );
  for (const each of all.sort((a, b) => a.occurrence.start - b.occurrence.start)) {
    if (each.occurrence.start < end) continue;
    end = each.occurrence.end;
    yield each;
  }
}

/** The paths that a platform speaks of: those that carry the theme's name, and those that are the host's own names. */
export class KnownPaths {
  readonly #own: readonly { readonly path: string; readonly pattern: RegExp }[];
  readonly #hosts: readonly string[];
  readonly #hostFiles: readonly string[];
  readonly #paths: ReadonlySet<string>;
  readonly #foreign: ReadonlySet<string>;
  /** Names of files that are numbered through: `oak_1.png` … `oak_15.png`. */
  readonly #series: ReadonlySet<string>;

  constructor(platform: Platform, from: FullName, paths: readonly string[], foreign: ReadonlySet<string> = new Set()) {
    this.#foreign = foreign;
    const shapes = namedPaths(platform);
    this.#paths = new Set(paths);
    this.#series = seriesIn(paths, from.id);
    this.#own = shapes
      .filter((path) => /\{(?:id|vendor)\b/.test(path))
      .map((shape) => ({ path: fillShape(shape, from), pattern: wholePattern(fillShape(shape, from).replaceAll('*', '{path}')) }));
    this.#hostFiles = platform.contract['host-files'];
    this.#hosts = shapes.filter((path) => !/[{*?[]/.test(path));
  }

  /** Whether code imports a file or folder by its name. */
  isModule(path: string): boolean {
    return path.endsWith('.py') || this.#paths.has(`${path}/__init__.py`);
  }

  /** Whether a file says of itself that it is someone else's. */
  isForeign(path: string): boolean {
    return this.#foreign.has(path);
  }

  /** Whether programs ask for a file by its name. */
  isHosts(path: string): boolean {
    return matchesAny(path, this.#hostFiles);
  }

  /** Why a name in a path may not be the theme's; undefined when it surely is. */
  doubt(path: string, occurrence: Occurrence, pair: NamePair): ReasonCode | undefined {
    if (this.#hosts.some((host) => host === path || isInFolder(host, path))) return 'host';
    const isLeading = occurrence.start === 0 || (occurrence.start === 1 && baseOf(path).startsWith('_'));
    const isPlain = pair.weight === 'distinctive' || pair.weight === 'part';
    if (isPlain || (pair.weight === 'short' && isLeading)) return undefined;
    if (this.#series.has(path)) return undefined;
    if (this.#own.some((own) => own.pattern.test(path) || isInFolder(own.path, path))) return undefined;
    return pair.weight === 'common' ? 'common-file' : 'short-file';
  }
}

/** So many files that differ by a number alone are a series, and no chance. */
const SERIES = 3;

/** The files of a tree whose names are a name and a number, where there are several in a folder. */
function seriesIn(paths: readonly string[], id: string): ReadonlySet<string> {
  const numbered = paths.filter(
    (path) => baseOf(path).toLowerCase().startsWith(id.toLowerCase()) && /^[-_ ]?\d+\.\w+$/.test(baseOf(path).slice(id.length)),
  );
  const places = new Map<string, string[]>();
  for (const path of numbered) {
    const unnumbered = path.replace(/\d+(?=\.\w+$)/, '');
    places.set(unnumbered, [...(places.get(unnumbered) ?? []), path]);
  }
  return new Set([...places.values()].filter((each) => each.length >= SERIES).flat());
}
