import { UsageError } from '../errors.ts';
import { matchesGlob } from '../files/glob.ts';
import { matchesPattern } from '../text/pattern.ts';
import semver from 'semver';
import { compareText } from '../files/file-tree.ts';
import { portableProblem, signNeverOnWindows } from '../files/portable-names.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { nearest } from '../text/nearest.ts';
import { asItLooks, strayLetter, withoutAccents } from '../names/look-alikes.ts';
import { spell, splitWords, type Spelling } from '../names/spelling.ts';
import type { NameGrammar, NeedCondition, PlatformContract } from './schema.ts';

/** A platform file that has been read: what it says, and where it lies. */
export interface Platform {
  readonly contract: PlatformContract;
  /** The platform file, as messages name it. */
  readonly file: string;
  /** The file's text, for messages with places. */
  readonly source: SourceDocument;
  /** Where the file lies on disk, when the platform was named by its path: by name alone nobody finds it again. */
  readonly path?: string | undefined;
  /** The folder on disk that kits and other companions lie in. */
  readonly folder: string;
}

/** The problem with a name, and the nearest one that is right. */
export interface NameVerdict {
  readonly problem: string;
  readonly suggestion?: string | undefined;
}

/** Judges a name against its grammar; undefined when it is right. */
export function judgeName(name: string, grammar: NameGrammar): NameVerdict | undefined {
  const problem = problemOfName(name, grammar);
  return problem === undefined ? undefined : { problem, suggestion: suggestName(name, grammar) };
}

function problemOfName(name: string, grammar: NameGrammar): string | undefined {
  if (name === '') return 'type one, for example my-theme';
  if (name === '.' || name === '..' || /[/\\\0]/.test(name)) return 'it is a path, not a name';
  const problem = portableProblem(name);
  if (problem === 'device') return 'Windows keeps this name for a device';
  const never = signNeverOnWindows(name) ?? '';
  if (problem === 'sign') return `no name of a folder holds ${never < ' ' ? 'a control character' : never} on Windows`;
  if (problem === 'end') return 'Windows takes full stops and blanks at the end of a name away';
  if (grammar.reserved.includes(name)) return 'the host keeps this name for itself';
  const longest = grammar['max-length'];
  if (longest !== undefined && name.length > longest) return `it has ${name.length} characters; at most ${longest} are allowed`;
  if (matchesPattern(name, grammar.pattern)) return undefined;
  const stray = strayLetter(name);
  return stray === undefined
    ? `expected: ${grammar.grammar}`
    : `“${stray.letter}” only looks like ${stray.looksLike}: it is a letter of another alphabet; expected: ${grammar.grammar}`;
}

function suggestName(name: string, grammar: NameGrammar): string | undefined {
  const letters = strayLetter(name) === undefined ? withoutAccents(name) : asItLooks(name);
  const plain = letters.replace(/[^A-Za-z0-9]+/g, ' ').trim();
  const words = splitWords(plain);
  const style: Spelling = grammar.spelling === 'free' ? 'kebab' : grammar.spelling;
  const tries = [spell(words, style), spell(words, 'flat'), spell(['theme', ...words], style), spell([...words, 'theme'], style)];
  for (const candidate of tries) {
    for (const cut of [candidate, candidate.replace(/^[^A-Za-z]+/, ''), candidate.slice(0, 40).replace(/[-_]+$/, '')]) {
      if (words.length > 0 && problemOfName(cut, grammar) === undefined) return cut;
    }
  }
  return undefined;
}

/** Whether a condition of the platform file holds for a theme. */
export function isNeeded(need: NeedCondition, isChild: boolean): boolean {
  return need === 'always' || (need === 'child' && isChild) || (need === 'standalone' && !isChild);
}

/** The releases of the host that a range takes in, oldest first; all of them when the range is not known. */
export function releasesInRange(platform: Platform, range: string | undefined): string[] {
  const releases = platform.contract.releases;
  if (range === undefined || semver.validRange(range) === null) return [...releases];
  return releases.filter((release) => {
    // A release such as 4 stands for all of 4.x.y, so it is in the range when the two meet anywhere.
    return semver.intersects(`${release}.x`.split('.').slice(0, 3).join('.'), range);
  });
}

/** Where a file in one of two places of the host's is in the other; undefined when it is not in the first. */
export function otherPlace(from: string, to: string, path: string): string | undefined {
  if (path === from) return to;
  const folder = `${from.replace(/\/$/, '')}/`;
  return path.startsWith(folder) ? `${to.replace(/\/$/, '')}/${path.slice(folder.length)}` : undefined;
}

/** A release of the host as its platform file writes it: 5 and 5.0 are one. @throws UsageError when it knows no such release */
export function releaseNamed({ contract }: Platform, wanted: string): string {
  const known = /^\d+(?:\.\d+)*$/.test(wanted) ? contract.releases.find((each) => compareReleases(each, wanted) === 0) : undefined;
  if (known !== undefined) return known;
  throw new UsageError({
    what: `the platform file of ${contract.title} does not know the release “${wanted}”`,
    hint: `it knows ${contract.releases.join(', ')}; a platform file of your own can extend it`,
  });
}

/** Whether an entry with `since` and `until` applies to any of the releases. */
export function isInSpan(span: { since?: string | undefined; until?: string | undefined }, releases: readonly string[]): boolean {
  return releases.some(
    (release) =>
      (span.since === undefined || compareReleases(release, span.since) >= 0) &&
      (span.until === undefined || compareReleases(release, span.until) <= 0),
  );
}

/** Which of two releases is the newer: more than 0 when the first is. */
export function compareReleases(a: string, b: string): number {
  const left = a.split('.').map(Number);
  const right = b.split('.').map(Number);
  for (let i = 0; i < Math.max(left.length, right.length); i++) {
    const difference = (left[i] ?? 0) - (right[i] ?? 0);
    if (difference !== 0) return difference;
  }
  return 0;
}

/** Picks a platform by name; undefined when there is none, with the nearest name. */
export function findByName(platforms: readonly Platform[], name: string): { platform?: Platform; near?: string | undefined } {
  const platform = platforms.find((candidate) => candidate.contract.name === name);
  return platform === undefined
    ? {
        near: nearest(
          name,
          platforms.map((candidate) => candidate.contract.name),
        ),
      }
    : { platform };
}

export function comparePlatforms(a: Platform, b: Platform): number {
  return compareText(a.contract.name, b.contract.name);
}

/** The places in which a parent keeps its kits, as globs. */
export function kitFolders({ contract }: Platform): readonly string[] {
  const { folder } = contract.kits ?? {};
  return folder === undefined ? [] : typeof folder === 'string' ? [folder] : folder;
}

/** Whether a file of a parent belongs to one of its kits: it is not part of the theme itself. */
export function isInKits(platform: Platform, path: string): boolean {
  return kitFolders(platform).some((folder) => matchesGlob(path, `${folder}/*/**`));
}

/** All paths by which the platform file names files of a theme, as shapes. */
export function namedPaths({ contract }: Platform): string[] {
  const { templates, strings, bundles } = contract;
  return [
    ...contract.documents.map((document) => document.path),
    ...contract.files.flatMap((file) => [file.path, ...(file['one-of'] ?? []), file['moved-to'] ?? '']),
    ...contract.images.map((image) => image.path),
    ...contract.recognise.map((mark) => mark.path),
    ...Object.values(templates?.roles ?? {}).map((role) => role.file),
    ...(strings === undefined ? [] : [strings.file]),
    ...(bundles === undefined ? [] : [bundles.file]),
  ].filter((path) => path !== '');
}
