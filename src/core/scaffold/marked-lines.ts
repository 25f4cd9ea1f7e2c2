import type { FileTree } from '../files/file-tree.ts';
import { kindOfPath } from '../text/file-kinds.ts';
import { isCommentLine, saysSo } from '../text/comment-lines.ts';
import { mapFiles } from './map-files.ts';

/** A stretch of a kit that a new theme must not have; the line counts from 1. */
export interface RemovedLines {
  readonly file: string;
  readonly line: number;
  readonly text: string;
}

/**
 * Takes out the comments of a kit that say that they are to be deleted; in data also the entries below them, up to an
 * empty line or the next comment.
 * @param says what such a comment says, one of it; case does not count
 */
export function withoutMarkedLines(tree: FileTree, says: readonly string[]): { tree: FileTree; removed: RemovedLines[] } {
  const removed: RemovedLines[] = [];
  if (says.length === 0) return { tree, removed };
  const isMarker = (line: string): boolean => saysSo(line, says);
  const changed = mapFiles(tree, {
    text: (text, file) => {
      const lines = text.split('\n');
      const left: string[] = [];
      for (let i = 0; i < lines.length; i++) {
        const line = lines[i] ?? '';
        if (!isMarker(line)) {
          left.push(line);
          continue;
        }
        const start = i;
        // A comment of several lines is one; then come the entries that it is about.
        while (isCommentLine(lines[i + 1] ?? '')) i++;
        if (kindOfPath(file) === 'data') while (/\S/.test(lines[i + 1] ?? '') && !isCommentLine(lines[i + 1] ?? '')) i++;
        removed.push({ file, line: start + 1, text: lines.slice(start, i + 1).join('\n') });
      }
      return removed.some((each) => each.file === file) ? left.join('\n') : undefined;
    },
  });
  return { tree: changed, removed };
}
