import { posix } from 'node:path';
import { addressOfPath } from '../contents/serving.ts';
import { folderOf, withoutEnding } from '../files/file-tree.ts';
import { wholePattern } from '../names/shape.ts';
import { partialAtPath } from '../templates/template-index.ts';
import type { TextEdit } from '../text/edits.ts';
import type { Use } from './uses.ts';

/** The text of a place that names a file, once the file lies elsewhere; undefined where the place cannot name it there. */
export function movedText({ theme, path, target, start, end }: Use, to: string): string | undefined {
  if (target.kind !== 'file') return undefined;
  const text = theme.source(path)?.text.slice(start, end) ?? '';
  const { templates, bundles } = theme.platform.contract;
  if (target.how === 'partial') return templates === undefined ? undefined : partialAtPath(templates, to);
  if (target.how === 'bundle') return bundles === undefined ? undefined : wholePattern(bundles.file).exec(to)?.groups?.['name'];
  // As the place writes the path now, it writes the new one.
  const spellings = [(place: string) => place, withoutEnding].flatMap((ended) => [
    (place: string) => afterPrefix(ended(place), ended(target.path), text),
    (place: string) => addressOfPath(theme.platform, ended(place)),
    (place: string) => posix.relative(folderOf(path), ended(place)),
    (place: string) => withDot(posix.relative(folderOf(path), ended(place))),
  ]);
  return spellings.find((spelled) => spelled(target.path) === text)?.(to);
}

/** A path without the folders that a text leaves out of another one; undefined where it lies in others. */
function afterPrefix(place: string, old: string, text: string): string | undefined {
  const prefix = old.endsWith(text) ? old.slice(0, old.length - text.length) : undefined;
  return prefix !== undefined && place.startsWith(prefix) ? place.slice(prefix.length) : undefined;
}

function withDot(path: string): string {
  return path.startsWith('.') ? path : `./${path}`;
}

/** Edits by file that make every place that names a file name it where it goes. */
export function moveEdits(uses: readonly Use[], to: string): { readonly use: Use; readonly edit: TextEdit }[] {
  return uses.flatMap((use) => {
    const text = movedText(use, to);
    return text === undefined ? [] : [{ use, edit: { start: use.start, end: use.end, text } }];
  });
}
