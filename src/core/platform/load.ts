import { basename, dirname, join, resolve } from 'node:path';
import { pathFrom } from '../files/paths.ts';
import { fileURLToPath } from 'node:url';
import { readConfiguration, readValues } from '../configuration/read-configuration.ts';
import { ConfigurationError } from '../errors.ts';
import { DiskTree } from '../files/disk-tree.ts';
import { filesOf, readIfThere, subfoldersOf } from '../files/disk.ts';
import { UnreadableFileError, type FileTree } from '../files/file-tree.ts';
import { MemoryTree } from '../files/memory-tree.ts';
import { SourceDocument } from '../text/source-document.ts';
import { mergeContracts } from './merge.ts';
import { contractProblems } from './contract-problems.ts';
import { comparePlatforms, type Platform } from './platform.ts';
import { preparedContract } from './prepared.ts';
import { PlatformSchema } from './schema.ts';
import { count } from '../text/sentence.ts';

export const PLATFORM_FILE = /\.platform\.ya?ml$/;

/**
 * Reads a platform file of a tree, to be used.
 * @param shownAs how messages name the file
 * @throws ConfigurationError with every mistake's place, what it says against itself among them
 */
export function loadPlatform(tree: FileTree, path: string, shownAs: string, folder: string): Platform {
  const platform = readPlatform(tree, path, shownAs, folder);
  // The build has judged what it prepared.
  const problems = preparedContract(platform.source) === undefined ? contractProblems(platform) : [];
  if (problems.length === 0) return platform;
  throw new ConfigurationError({
    what: `${shownAs}: ${count(problems.length, 'problem')}`,
    problems,
    hint: 'correct it; “pionero platform check” looks at its kits, too',
  });
}

/** Reads a platform file whose contradictions are nobody's concern yet. @throws ConfigurationError when it is not of the right form */
export function readPlatform(tree: FileTree, path: string, shownAs: string, folder: string): Platform {
  const source = readConfigurationText(tree, path, shownAs);
  const contract =
    preparedContract(source) ?? readConfiguration(source, PlatformSchema, 'platform file', (given) => extended(given, folder, [shownAs]));
  return { contract, file: shownAs, folder, source };
}

/** Lays a platform file over the one that it extends; `seen` are the files on the way, so that a circle is noticed. */
function extended(given: unknown, folder: string, seen: readonly string[]): unknown {
  const base = typeof given === 'object' && given !== null && 'extend' in given ? given.extend : undefined;
  if (typeof base !== 'string') return given;
  const path = /[/\\]|\.ya?ml$/.test(base) ? resolve(folder, base) : join(shippedFolder(), base, `${base}.platform.yaml`);
  if (seen.includes(path)) throw new ConfigurationError({ what: `${seen[0]} extends itself, by way of ${path}` });
  const source = readConfigurationText(new DiskTree(dirname(path)), basename(path), path);
  const below = extended(readValues(source, 'platform file'), dirname(path), [...seen, path]);
  return mergeContracts(below, given);
}

/** Reads a configuration file as text; says so when it is not there or not text. */
export function readConfigurationText(tree: FileTree, path: string, shownAs: string): SourceDocument {
  try {
    const source = SourceDocument.decode(shownAs, tree.read(path));
    if (source !== undefined) return source;
    throw new ConfigurationError({ what: `${shownAs} is not a text file` });
  } catch (error) {
    if (error instanceof UnreadableFileError) {
      throw new ConfigurationError({ what: `${shownAs} cannot be read`, why: error.message, cause: error });
    }
    throw error;
  }
}

/** The folder of the shipped platform files; the program lies in `dist/`, the sources in `src/`, both beside it. */
export function shippedFolder(): string {
  let folder = dirname(fileURLToPath(import.meta.url));
  while (!/[/\\](dist|src)$/.test(folder) && dirname(folder) !== folder) folder = dirname(folder);
  return join(dirname(folder), 'platforms');
}

let shipped: readonly Platform[] | undefined;

/** The platforms that come with Pionero, by name. */
export function shippedPlatforms(): readonly Platform[] {
  return (shipped ??= platformsIn(shippedFolder(), 'platforms'));
}

/** One of the shipped platforms, without reading the others; undefined when there is none of that name. */
export function shippedPlatform(name: string): Platform | undefined {
  if (shipped !== undefined) return shipped.find((platform) => platform.contract.name === name);
  const known = shippedByName.get(name);
  if (known !== undefined) return known;
  const folder = join(shippedFolder(), name);
  const file = `${name}.platform.yaml`;
  if (!/^[a-z][a-z0-9-]*$/.test(name) || !filesOf(folder).includes(file)) return undefined;
  const platform = loadPlatform(folderTree(folder, file), file, join('platforms', name, file), folder);
  shippedByName.set(name, platform);
  return platform;
}

/** Those that were read one by one. */
const shippedByName = new Map<string, Platform>();

/**
 * The platforms in the folders of a folder, and in it: `NAME/NAME.platform.yaml` or `NAME.platform.yaml`, by name.
 * @throws ConfigurationError when one is wrong
 */
export function platformsIn(root: string, shownAs: string): Platform[] {
  return [root, ...subfoldersOf(root).map((name) => join(root, name))]
    .flatMap((folder) =>
      filesOf(folder)
        .filter((name) => PLATFORM_FILE.test(name))
        .map((name) => ({ folder, name })),
    )
    .map(({ folder, name }) =>
      loadPlatform(folderTree(folder, name), name, [shownAs, pathFrom(root, folder), name].filter((part) => part !== '').join('/'), folder),
    )
    .sort(comparePlatforms);
}

/** One file of a folder as a tree; a platform's kits are not listed to read its file. */
function folderTree(folder: string, name: string): FileTree {
  return MemoryTree.of({ [name]: readIfThere(join(folder, name)) ?? Buffer.alloc(0) });
}
