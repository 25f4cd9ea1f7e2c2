import { baseOf } from '../files/file-tree.ts';
import type { TextRange } from '../text/edits.ts';
import type { FullName } from './names.ts';
import { NameFinder } from './occurrences.ts';
import { respell } from './respell.ts';
import type { OtherNames } from './kept.ts';

/** A name of a file or folder after the rename, and why it still holds the old name if it does. */
export interface RenamedPart {
  readonly name: string;
  readonly kept?: string | undefined;
}

/** Renames one part of a path. Others' names and longer words in it stay. */
export function renamePart(part: string, ids: NameFinder, from: FullName, to: FullName, others: OtherNames): RenamedPart {
  const otherNames = others.find(part);
  let name = '';
  let kept: string | undefined;
  let at = 0;
  for (const occurrence of ids.find(part)) {
    const other = otherNames.find((each) => each.start <= occurrence.start && occurrence.end <= each.end);
    const isInside = occurrence.edges === 'inside-word';
    const replacement = other !== undefined || isInside ? undefined : respell(occurrence, from, to, { text: part, zone: 'path', file: '' });
    if (replacement === undefined) kept = other?.reason ?? (isInside ? 'part of a longer word' : 'written in no spelling that can be told');
    name += part.slice(at, occurrence.start) + (replacement ?? occurrence.text);
    at = occurrence.end;
  }
  return { name: name + part.slice(at), kept };
}

/** The paths that a rename moves, so that what refers to them can be told from other text. */
export class MovedPaths {
  readonly moves: ReadonlyMap<string, string>;
  readonly #names: ReadonlySet<string>;

  constructor(moves: ReadonlyMap<string, string>) {
    this.moves = moves;
    // A reference may leave the extension out: partials/albar-nav for partials/albar-nav.html.
    this.#names = new Set([...moves.keys()].flatMap((path) => [baseOf(path), baseOf(path).replace(/\.[^.]+$/, '')]));
  }

  /** Whether an occurrence lies in an address whose last part, or a folder of it, is something that moves. */
  isReference(text: string, { start, end }: TextRange): boolean {
    if (this.#names.size === 0) return false;
    const head = /[\p{L}\p{N}_./@-]*$/u.exec(text.slice(Math.max(0, start - 200), start))?.[0] ?? '';
    const tail = /^[\p{L}\p{N}_./@-]*/u.exec(text.slice(end, end + 200))?.[0] ?? '';
    const address = head + text.slice(start, end) + tail;
    const within = head.lastIndexOf('/') + 1;
    const part = address.slice(within).split('/')[0] ?? '';
    // A bare word is an address only with its extension, so that prose is not taken for one.
    return this.#names.has(part) && (address.includes('/') || /\.\w+$/.test(part));
  }
}
