import { createHash } from 'node:crypto';
import { DiskTree } from '../files/disk-tree.ts';
import type { FileStamp } from './journal.ts';

/** Of bytes, in hexadecimal. */
export function sha256(bytes: Buffer): string {
  return createHash('sha256').update(bytes).digest('hex');
}

/** How every file below a folder looks now. */
export function stampTree(root: string): FileStamp[] {
  return new DiskTree(root).entries.map(({ path, kind, size, mtimeMs = 0 }) => ({ path, kind, size, mtimeMs }));
}

/** Times that were put back can be off by what does not fit a floating-point number of seconds. */
const TIME_TOLERANCE_MS = 2;

/** Whether a file looks as it did; folders change their times for many reasons, so only files' count. */
export function isSameStamp(a: FileStamp | undefined, b: FileStamp | undefined): boolean {
  if (a === undefined || b === undefined || a.kind !== b.kind || a.size !== b.size) return false;
  return a.kind !== 'file' || Math.abs(a.mtimeMs - b.mtimeMs) <= TIME_TOLERANCE_MS;
}
