import type { FileTree } from '../files/file-tree.ts';
import type { FullName } from '../names/full-name.ts';
import { spell, splitWords } from '../names/spelling.ts';
import { escapePattern } from '../text/pattern.ts';
import { kindOfPath } from '../text/file-kinds.ts';
import { escapeTitle } from '../rename/respell.ts';
import { findZones, zoneAt, zoneOf } from '../text/zones.ts';
import { mapFiles } from './map-files.ts';
import type { KitName, StandsFor } from '../contents/placeholders.ts';

/** The replacement for each sort of placeholder. */
export type Fillings = Readonly<Record<StandsFor, string | undefined>>;

export function fillingsFor(to: FullName, parent: string | undefined): Fillings {
  return { id: to.id, title: to.title, vendor: to.vendor, parent };
}

/**
 * Writes the new theme's names where placeholders stand between signs, and where they stand for something else than the id.
 * Those of words that stand for the id are left to the renaming, which knows their spellings; one that is written in
 * capitals without reason is put into small letters for it: `YOURTHEME-nav.css` means the id, `YOURTHEME_VERSION` a constant.
 */
export function fillPlaceholders(tree: FileTree, names: readonly KitName[], fillings: Fillings): FileTree {
  if (names.length === 0) return tree;
  const fill = (text: string, path?: string): string => names.reduce((whole, name) => fillOne(whole, name, fillings, path), text);
  return mapFiles(tree, { name: (base) => fill(base), text: (text, path) => fill(text, path) });
}

/** @param path of the file that the text is of; undefined when it is a file's name */
function fillOne(text: string, { text: placeholder, words, stands }: KitName, fillings: Fillings, path: string | undefined): string {
  const isPath = path === undefined;
  const filling = fillings[stands] ?? fillings.id ?? '';
  if (words === undefined) {
    return text.replace(new RegExp(escapePattern(placeholder), 'gi'), (found, at: number) =>
      isPath && stands === 'title' ? (fillings.id ?? '') : fitting(filling, stands, { text, path, start: at, end: at + found.length }),
    );
  }
  const pattern = new RegExp(words.map(escapePattern).join('[-_ ]?'), 'gi');
  if (stands !== 'id')
    return text.replace(pattern, (found, at: number) =>
      isPath ? (fillings.id ?? '') : fitting(filling, stands, { text, path, start: at, end: at + found.length }),
    );
  return text.replace(pattern, (found, at: number) => {
    const isMixed = found === placeholder && found !== found.toLowerCase() && found !== found.toUpperCase();
    if (isMixed && isIdPlace(path, text, at, at + found.length)) return spell(words, 'flat');
    if (found !== found.toUpperCase()) return found;
    const before = /[A-Za-z0-9_]*$/.exec(text.slice(Math.max(0, at - 60), at))?.[0] ?? '';
    const after = /^[A-Za-z0-9_]*/.exec(text.slice(at + found.length, at + found.length + 60))?.[0] ?? '';
    const rest = (before + after).replace(/[^A-Za-z]/g, '');
    if (rest === '' && path !== undefined && isSentence(path, text, at, at + found.length))
      return titleFor(fillings.title ?? found, path, text, at);
    return rest !== '' && rest === rest.toUpperCase() ? found : spell(words, 'flat');
  });
}

/** Whether a word spelled like the placeholder, and not a class, stands where ids stand: in file names, strings, stylesheets. */
function isIdPlace(path: string | undefined, text: string, start: number, end: number): boolean {
  if (/[A-Za-z0-9_]/.test(text.charAt(start - 1) + text.charAt(end))) return false;
  if (path === undefined) return true;
  const zone = zoneOf(findZones(path, text), start);
  return (
    zone?.kind === 'string' || kindOfPath(path) === 'stylesheet' || (kindOfPath(path) === 'data' && !isSentence(path, text, start, end))
  );
}

/** Whether a word stands in prose or a comment, by itself: there it is what people read. */
function isSentence(path: string, text: string, start: number, end: number): boolean {
  const isJoined = /[\w\-./`"'@#$]/.test(text.charAt(start - 1)) || /^(?:[-/_`"']|\.\w)/.test(text.slice(end, end + 2));
  if (isJoined) return false;
  return kindOfPath(path) === 'prose' || zoneAt(findZones(path, text), start) === 'comment';
}

/** An id that is joined to letters or underscores is part of an identifier, and spelled as one. */
function fitting(
  filling: string,
  stands: StandsFor,
  { text, path, start, end }: { readonly text: string; readonly path: string | undefined; readonly start: number; readonly end: number },
): string {
  if (stands === 'title') return path === undefined ? filling : titleFor(filling, path, text, start);
  const [before, after] = [text.charAt(start - 1), text.charAt(end)];
  const isConstant = /[A-Z]_$/.test(text.slice(Math.max(0, start - 2), start)) || /^_[A-Z]/.test(text.slice(end, end + 2));
  if (isConstant) return spell(splitWords(filling), 'constant');
  return /[A-Za-z0-9_]/.test(before) || after === '_' ? spell(splitWords(filling), 'snake') : filling;
}

/** A title as the file's syntax can hold it; without its signs where nobody can tell. A field that declares it is written later. */
function titleFor(title: string, path: string, text: string, start: number): string {
  const zone = zoneOf(findZones(path, text), start);
  return (
    escapeTitle(title, { text, zone: zone?.kind ?? 'text', language: zone?.language, file: path }) ??
    title.replace(/[^\p{L}\p{N}\p{M} ]/gu, '')
  );
}
