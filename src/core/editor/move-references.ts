import { posix } from 'node:path';
import { folderOf } from '../files/file-tree.ts';
import { partialAtPath } from '../templates/template-index.ts';
import type { TextEdit } from '../text/edits.ts';
import type { Use } from './uses.ts';

/** The text of a place that names a file, once the file lies elsewhere; undefined where the place cannot name it there. */
export function movedText({ theme, path, target, start, end }: Use, to: string): string | undefined {
  if (target.kind !== 'file') return undefined;
  const text = theme.source(path)?.text.slice(start, end) ?? '';
  const contract = theme.platform.contract.templates;
  if (target.how === 'partial') return contract === undefined ? undefined : partialAtPath(contract, to);
  if (target.how === 'bundle') return undefined;
  const old = target.path;
  // Where the text is the end of the path, what stands before it is where it starts.
  if (old.endsWith(text)) {
    const base = old.slice(0, old.length - text.length);
    if (to.startsWith(base)) return to.slice(base.length);
  }
  const relative = posix.relative(folderOf(path), to);
  const written = posix.relative(folderOf(path), old);
  if (text === written) return relative;
  return text === `./${written}` ? (relative.startsWith('.') ? relative : `./${relative}`) : undefined;
}

/** Edits by file that make every place that names a file name it where it goes. */
export function moveEdits(uses: readonly Use[], to: string): { readonly use: Use; readonly edit: TextEdit }[] {
  return uses.flatMap((use) => {
    const text = movedText(use, to);
    return text === undefined ? [] : [{ use, edit: { start: use.start, end: use.end, text } }];
  });
}
