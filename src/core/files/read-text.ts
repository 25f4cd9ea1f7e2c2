import { isBinaryHead, SourceDocument } from '../text/source-document.ts';
import { followLinks, UnreadableFileError, type FileTree } from './file-tree.ts';

/** Text files larger than this are looked at as bytes only. */
export const MAX_TEXT_BYTES = 32 * 1024 * 1024;

/** A file's bytes, or its head if that {@link FileTree.read is enough}; undefined when it is not there or cannot be read. */
export function readBytes(tree: FileTree, path: string, isEnough?: (head: Buffer) => boolean): Buffer | undefined {
  if (followLinks(tree, path)?.kind !== 'file') return undefined;
  try {
    return tree.read(path, isEnough);
  } catch (error) {
    if (error instanceof UnreadableFileError) return undefined;
    throw error;
  }
}

/** A file of a tree as text; undefined when it is binary, larger than {@link MAX_TEXT_BYTES}, or cannot be read. */
export function readText(tree: FileTree, path: string): SourceDocument | undefined {
  if ((followLinks(tree, path)?.size ?? 0) > MAX_TEXT_BYTES) return undefined;
  const bytes = readBytes(tree, path, isBinaryHead);
  return bytes === undefined ? undefined : SourceDocument.decode(path, bytes);
}
