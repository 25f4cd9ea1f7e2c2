import { createHash, type Hash } from 'node:crypto';
import { wasChangedSince } from '../../files/disk.ts';
import type { DiskCache } from '../../files/disk-cache.ts';
import { UnreadableFileError, type FileTree } from '../../files/file-tree.ts';
import { matchesAny } from '../../files/glob.ts';
import { tagsOfCommit } from '../../facts/git-tags.ts';
import type { Platform } from '../../platform/platform.ts';
import type { OpenedTheme } from '../../theme/open.ts';
import { treeAtPlace } from '../../theme/place.ts';
import type { Shelves } from '../../theme/shelf.ts';
import type { CheckOptions, CheckResult } from './check.ts';
import { siblingFiles } from './check-basis.ts';

/** A form of entries; a new one makes the old ones unreadable. */
const FORM = 'check/1';
/** Findings whose source lines have more characters together are not kept. */
const MAX_CHARACTERS = 1 << 24;

/**
 * The findings in themes, kept under a key of everything that a check looks at: the bytes of the theme and of all that it
 * builds on, what its neighbors share, the platform, the configuration, and Pionero itself. Another byte is another key.
 */
export class CheckCache {
  readonly #disk: DiskCache;
  readonly #build: string;

  /** @param build tells one build of Pionero from another */
  constructor(disk: DiskCache, build: string) {
    this.#disk = disk;
    this.#build = build;
  }

  /** The earlier findings, or those of `check` now. */
  resultOf(opened: OpenedTheme, purpose: CheckOptions['purpose'], check: () => CheckResult): CheckResult {
    // Nobody can know what a user's own rule looks at, nor which modules it loads.
    if (opened.configuration['rule-files'].length > 0) return check();
    const key = this.#keyOf(opened, purpose);
    const known = readResult(this.#disk.find(key));
    if (known !== undefined) return known;
    const result = check();
    const characters = result.findings.reduce((sum, { sourceLine = '' }) => sum + sourceLine.length, 0);
    // What takes that much room is made again in less time than it is read.
    if (characters < MAX_CHARACTERS && !wasChanged(opened)) this.#disk.keep(key, JSON.stringify({ form: FORM, result }));
    return result;
  }

  #keyOf({ theme, chain, shelves, configuration, folder }: OpenedTheme, purpose: CheckOptions['purpose']): string {
    const hash = createHash('sha256');
    const entry = {
      form: FORM,
      build: this.#build,
      purpose,
      // Messages name places as they are seen from here.
      places: [shelves.currentFolder, folder, theme.location, ...shelves.folders],
      names: theme.names,
      platform: platformKey(theme.platform),
      configurations: configuration.layers.map(({ file, source }) => [file, source.text]),
      tags: tagsOfCommit(folder),
      commons: chain.themes.map((each) => chain.commons.has(each)),
      broken: chain.broken === undefined ? null : [chain.broken.kind, chain.broken.id, chain.broken.of.names.id],
      siblings: shelves.once(siblingsKey),
    };
    addText(hash, JSON.stringify(entry));
    for (const each of chain.themes) addText(hash, treeKey(each.tree, each.location));
    return hash.digest('hex');
  }
}

function readResult(text: string | undefined): CheckResult | undefined {
  if (text === undefined) return undefined;
  try {
    const entry = JSON.parse(text) as { form?: unknown; result?: CheckResult };
    return entry.form === FORM ? entry.result : undefined;
  } catch {
    return undefined;
  }
}

const platformKeys = new WeakMap<Platform, string>();

function platformKey(platform: Platform): string {
  const known = platformKeys.get(platform);
  if (known !== undefined) return known;
  const key = createHash('sha256').update(JSON.stringify(platform.contract)).digest('hex');
  platformKeys.set(platform, key);
  return key;
}

const treeKeys = new WeakMap<FileTree, string>();

/** Systems count the times of files in steps of so many milliseconds at most. */
const CLOCK_STEP_MS = 20;

/**
 * Whether a file changed since a theme was opened: its findings may be of other bytes than its key. It happens to files that are saved
 * again and again while something watches them.
 */
function wasChanged({ chain, configuration }: OpenedTheme): boolean {
  const opened = chain.themes.map(({ tree }) => tree.disk?.openedAt ?? Infinity);
  return (
    configuration.layers.some(({ file }) => wasChangedSince(file, Math.min(...opened) - CLOCK_STEP_MS)) ||
    chain.themes.some(({ tree }, i) => {
      const paths = [tree.disk?.root, ...tree.entries.map(({ path }) => tree.diskPath?.(path))];
      return paths.some((path) => path !== undefined && wasChangedSince(path, (opened[i] ?? 0) - CLOCK_STEP_MS));
    })
  );
}

/** Everything that can be seen of a tree. Parents are opened once for all their children, and so hashed once. */
function treeKey(tree: FileTree, location: string): string {
  const known = treeKeys.get(tree);
  if (known !== undefined) return known;
  const hash = createHash('sha256');
  addText(hash, JSON.stringify([location, tree.disk?.skipped, tree.disk?.unlisted, tree.disk?.special]));
  for (const entry of tree.entries) {
    addText(hash, JSON.stringify([entry.path, entry.kind, entry.size, entry.mode, entry.target]));
    if (entry.kind === 'file') addBytes(hash, tree, entry.path);
  }
  const key = hash.digest('hex');
  treeKeys.set(tree, key);
  return key;
}

/** The parts of the other themes on its shelves that a check of one theme looks at: names, lists of files, documents, declared names. */
function siblingsKey(shelves: Shelves): string {
  const hash = createHash('sha256');
  const globs = siblingFiles(shelves.platform);
  for (const shelved of shelves.list()) {
    // Not opened: reading documents takes longer than hashing them.
    const tree = treeAtPlace(shelves.platform, shelved.folder);
    addText(hash, JSON.stringify([shelved.folder, shelved.names, tree.entries.map(({ path, kind }) => [path, kind])]));
    for (const { path, kind } of tree.entries) if (kind === 'file' && matchesAny(path, globs)) addBytes(hash, tree, path);
  }
  return hash.digest('hex');
}

function addText(hash: Hash, text: string): void {
  hash.update(`${text.length}:${text}`);
}

function addBytes(hash: Hash, tree: FileTree, path: string): void {
  try {
    for (const part of tree.parts(path)) hash.update(part);
  } catch (error) {
    if (!(error instanceof UnreadableFileError)) throw error;
    addText(hash, error.message);
  }
}
