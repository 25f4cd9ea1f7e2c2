import { isBinaryHead, SourceDocument } from '../text/source-document.ts';
import { followLinks, UnreadableFileError, type FileTree } from './file-tree.ts';

/** Text files larger than this are looked at as bytes only. */
export const MAX_TEXT_BYTES = 8 * 1024 * 1024;

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

/** Whether a file is too large to be looked at as a text. */
export function isTooLargeForText(tree: FileTree, path: string): boolean {
  return (followLinks(tree, path)?.size ?? 0) > MAX_TEXT_BYTES;
}

/** A file of a tree as text; undefined when it is binary, larger than {@link MAX_TEXT_BYTES}, or cannot be read. */
export function readText(tree: FileTree, path: string): SourceDocument | undefined {
  if (isTooLargeForText(tree, path)) return undefined;
  const bytes = readBytes(tree, path, isBinaryHead);
  return bytes === undefined ? undefined : SourceDocument.decode(path, bytes);
}

/** As much of the window before as stands at the beginning of the next: longer than any name, with what stands around it. */
const OVERLAP_BYTES = 4096;

/** A stretch of a large file, each byte a character of ISO 8859-1. */
export interface FileWindow {
  readonly text: string;
  /** Where it begins in the file. */
  readonly start: number;
  /** What begins before this place in the text was in the window before; what begins behind `until` is in the next one. */
  readonly from: number;
  readonly until: number;
}

/** A file that is too large for memory, stretch by stretch. @throws UnreadableFileError like {@link FileTree.read} */
export function* windowsOf(tree: FileTree, path: string): Generator<FileWindow> {
  let start = 0;
  let held: Buffer = Buffer.alloc(0);
  let from = 0;
  for (const part of tree.parts(path)) {
    const bytes = Buffer.concat([held, part]);
    const until = Math.max(from, bytes.length - OVERLAP_BYTES);
    yield { text: bytes.toString('latin1'), start, from, until };
    const kept = Math.max(0, until - OVERLAP_BYTES);
    held = Buffer.from(bytes.subarray(kept));
    start += kept;
    from = until - kept;
  }
  yield { text: held.toString('latin1'), start, from, until: held.length };
}

/** What tells a picture's format and size stands before its pixels; text and color profiles before that are smaller than this. */
const MAX_PICTURE_HEAD_BYTES = 4 * 1024 * 1024;

/** The beginning of a picture's file. @throws UnreadableFileError like {@link FileTree.read} */
export function readPictureHead(tree: FileTree, path: string): Buffer {
  const parts: Buffer[] = [];
  let length = 0;
  for (const part of tree.parts(path)) {
    parts.push(part);
    length += part.length;
    if (length >= MAX_PICTURE_HEAD_BYTES) break;
  }
  return Buffer.concat(parts);
}
