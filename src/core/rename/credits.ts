import type { TextRange } from '../text/edits.ts';
import type { FileKind } from '../text/file-kinds.ts';
import type { Zone } from '../text/zones.ts';
import { lineAround } from './kept.ts';

/** What says whose work something is. */
const CREDIT =
  /©|\(c\)\s*\d|\bcopyright\b|SPDX-FileCopyrightText|@(?:author|copyright|license|licence)\b|\ball rights reserved\b|\bcredits?\s*:|\bcourtesy of\b|\b(?:made|designed|written|created|developed|drawn|built|photographed|photos?|pictures?|icons?|fonts?|illustrations?) by\b|\b(?:authors?|maintainers?|photographer)["']?\s*[:=]/i;
const COPYRIGHT = /^\W*(?:copyright\b|©|\(c\)\s*\d|SPDX-FileCopyrightText)/i;
/** Keys of entries, and names of attributes, under which people stand. */
const PEOPLE = /^(?:authors?|maintainers?|contributors?|copyright|credits?|photographers?|creator|publisher|rights)$/i;

/** How much of a long line is looked at; minified files have a single line. */
const REACH = 300;

/**
 * Whether a place stands in a credit. What counts is the unit that it lies in: a line of a comment, of a string or of
 * prose, an attribute, an entry of data. Code has no credits.
 */
export function isCredit(text: string, at: TextRange, zone: Zone | undefined, kind: FileKind): boolean {
  if (zone?.kind === 'code') return false;
  if (zone?.kind === 'comment' || zone?.kind === 'string') return isCreditLine(text, at, zone);
  if (zone?.kind === 'markup') return isCreditOfMarkup(text, at, zone);
  if (kind === 'data') return isCreditEntry(text, at);
  return isCreditLine(text, at, { start: 0, end: text.length });
}

/** The line around a place, as far as it lies in a stretch; or the line below it, where that states the copyright of what it names. */
function isCreditLine(text: string, at: TextRange, within: TextRange): boolean {
  const { line, start } = lineAround(text, at, REACH);
  const from = Math.max(start, within.start);
  const end = Math.min(start + line.length, within.end);
  if (CREDIT.test(text.slice(from, end))) return true;
  const next = /^\r?\n([^\n]*)/.exec(text.slice(end, Math.min(within.end, end + REACH)))?.[1] ?? '';
  return COPYRIGHT.test(next) && isNameLine(text.slice(from, end), at.end - at.start);
}

/** A line that says little more than what something is called: `Albar 1.2`, ` * Theme Albar`. */
function isNameLine(line: string, length: number): boolean {
  return line.replace(/[^\p{L}\p{N}]+/gu, '').length < length + 24 && !/[:=]\s*\S/.test(line);
}

function isCreditOfMarkup(text: string, at: TextRange, zone: Zone): boolean {
  const head = text.slice(Math.max(zone.start, at.start - 2000), at.start);
  const tag = /<[\w-]+(?:[^<>"']|"[^"]*"|'[^']*')*(?:"[^"]*|'[^']*)?$/.exec(head)?.[0];
  if (tag === undefined) {
    const { line, start } = lineAround(text, at, REACH);
    const own = text.slice(Math.max(start, zone.start), Math.min(start + line.length, zone.end));
    return CREDIT.test(own.replace(/<[^<>]*>/g, ' ')) || PEOPLE.test(/<([\w-]+)[^<>]*>[^<>]*$/.exec(head)?.[1] ?? '');
  }
  const name = /([\w:-]+)\s*=\s*["']?[^"']*$/.exec(tag)?.[1] ?? '';
  const of = /\b(?:name|property|itemprop)\s*=\s*["']?(?:\w+:)?([\w-]+)/i.exec(tag)?.[1] ?? '';
  const value = /=\s*["']([^"']*)$/.exec(tag)?.[1] ?? '';
  const rest = /^[^"'<>]*/.exec(text.slice(at.start, at.start + REACH))?.[0] ?? '';
  return PEOPLE.test(name) || (name.toLowerCase() === 'content' && PEOPLE.test(of)) || CREDIT.test(value + rest);
}

/** An entry by its own key, or by that of what holds it: `"author": { "name": … }`, the items below `authors:`. */
function isCreditEntry(text: string, at: TextRange): boolean {
  return entryKeys(text, at.start).some((key) => PEOPLE.test(key)) || CREDIT.test(entryAround(text, at));
}

/** The value that a place lies in, without its neighbours on the line. */
function entryAround(text: string, at: TextRange): string {
  const { line, start } = lineAround(text, at, REACH);
  const offset = at.start - start;
  const quoted = [...line.matchAll(/"(?:[^"\\]|\\.)*"|'[^']*'/g)].find(
    (each) => each.index <= offset && offset < each.index + each[0].length,
  );
  return quoted === undefined ? line : quoted[0];
}

/** The keys that lead to a place: by brackets where there are some, by indentation where not. */
export function entryKeys(text: string, offset: number): string[] {
  const keys: string[] = [];
  const head = text.slice(Math.max(0, offset - 4000), offset);
  const isBracketed = /^\s*[{[]/.test(text);
  if (isBracketed) {
    const own = /"([^"\\]*)"\s*:\s*"?[^"{}[\]]*$/.exec(head)?.[1];
    if (own !== undefined) keys.push(own);
    let depth = 0;
    for (let at = head.length - 1; at >= 0; at--) {
      const sign = head.charAt(at);
      if (sign === '}' || sign === ']') depth++;
      else if (sign === '{' || sign === '[') {
        if (depth > 0) depth--;
        else keys.push(/"([^"\\]*)"\s*:\s*$/.exec(head.slice(Math.max(0, at - 200), at))?.[1] ?? '');
      }
    }
    return keys;
  }
  const lines = head.split('\n');
  let indent = Infinity;
  for (const line of lines.toReversed()) {
    const [, space = '', key] = /^(\s*)(?:- )?["']?([\w .-]*?)["']?\s*(?:[:=]|$)/.exec(line) ?? [];
    const isItem = /^\s*- /.test(line);
    if (line.trim() === '' || space.length >= indent + (isItem ? 1 : 0)) continue;
    if (key !== undefined) keys.push(key);
    indent = isItem ? space.length + 1 : space.length;
    if (indent === 0) break;
  }
  return keys;
}
