import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { readConfiguration } from '../configuration/read-configuration.ts';
import { ConfigurationError } from '../errors.ts';
import { DiskTree } from '../files/disk-tree.ts';
import { folderOf, UnreadableFileError, type FileTree } from '../files/file-tree.ts';
import { SourceDocument } from '../text/source-document.ts';
import { comparePlatforms, type Platform } from './platform.ts';
import { PlatformSchema } from './schema.ts';

export const PLATFORM_FILE = /\.platform\.ya?ml$/;

/**
 * Reads a platform file of a tree.
 * @param shownAs how messages name the file
 * @throws ConfigurationError with every mistake's place
 */
export function loadPlatform(tree: FileTree, path: string, shownAs: string, folder: string): Platform {
  const contract = readConfiguration(readConfigurationText(tree, path, shownAs), PlatformSchema, 'platform file');
  return { contract, file: shownAs, folder };
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
  if (shipped !== undefined) return shipped;
  const root = shippedFolder();
  const tree = new DiskTree(root);
  shipped = tree.entries
    .filter((entry) => entry.kind === 'file' && PLATFORM_FILE.test(entry.path) && entry.path.split('/').length === 2)
    .map((entry) => loadPlatform(tree, entry.path, `platforms/${entry.path}`, join(root, folderOf(entry.path))))
    .sort(comparePlatforms);
  return shipped;
}
