import type { TextRange } from './edits.ts';
import { type LexisName, endingOf } from './file-kinds.ts';

/** What a stretch of a source file is for: code, a string literal, a comment, or text between tags. */
export type ZoneKind = 'code' | 'string' | 'comment' | 'markup' | 'text';

export interface Zone extends TextRange {
  readonly kind: ZoneKind;
}

/** How a language marks comments and strings. */
interface Lexis {
  /** Every character that a comment or string can begin with: looking for these first is much faster. */
  readonly starts: string;
  readonly tokens: RegExp;
  readonly startsIn: 'code' | 'markup';
}

const STRING = /"(?:[^"\\]|\\[^])*"?|'(?:[^'\\]|\\[^])*'?/.source;
const BLOCK = /\/\*[^]*?(?:\*\/|$)/.source;
/** A slash begins a regular expression only where a value can begin. */
const REGEX = /(?<=[(,=:[!&|?{};+\n]\s{0,8}|\breturn\s{1,8})\/(?![*/])(?:[^\\/[\n]|\\.|\[(?:[^\\\]\n]|\\.)*\])+\/[a-z]*/.source;

const SCRIPT: Lexis = {
  starts: '[/"\'`]',
  tokens: new RegExp(`(?<comment>//[^\\n]*|${BLOCK})|(?<string>${STRING}|\`(?:[^\`\\\\]|\\\\[^])*\`?|${REGEX})`, 'g'),
  startsIn: 'code',
};
const PHP: Lexis = {
  starts: '[/#"\'<?]',
  tokens: new RegExp(
    `(?<comment>//(?:[^\\n?]|\\?(?!>))*|#(?!\\[)(?:[^\\n?]|\\?(?!>))*|${BLOCK})|(?<string>${STRING}|<<<[ \\t]*["']?(?<tag>\\w+)["']?\\n[^]*?(?:\\n[ \\t]*\\k<tag>\\b|$))|(?<close>\\?>)`,
    'g',
  ),
  startsIn: 'markup',
};
const SHEET: Lexis = { starts: '[/"\']', tokens: new RegExp(`(?<comment>${BLOCK})|(?<string>${STRING})`, 'g'), startsIn: 'code' };
const SHEET_WITH_LINES: Lexis = {
  starts: '[/"\']',
  tokens: new RegExp(`(?<comment>(?<!:)//[^\\n]*|${BLOCK})|(?<string>${STRING})`, 'g'),
  startsIn: 'code',
};
const MARKUP: Lexis = { starts: '[<{]', tokens: /(?<comment><!--[^]*?(?:-->|$)|\{\{![^]*?(?:\}\}|$))/g, startsIn: 'markup' };

const LEXES: Readonly<Record<LexisName, Lexis>> = {
  script: SCRIPT,
  php: PHP,
  sheet: SHEET,
  'sheet-with-lines': SHEET_WITH_LINES,
  markup: MARKUP,
};

/** The zones of a file, in order, without gaps. The file's ending tells how its language marks comments and strings. */
export function findZones(file: string, text: string): Zone[] {
  const { lexis: name } = endingOf(file);
  const lexis = name === undefined ? undefined : LEXES[name];
  if (lexis === undefined) return [{ kind: 'text', start: 0, end: text.length }];
  return lexis === PHP ? findPhpZones(text) : lexZones(lexis, text, 0, text.length, []).zones;
}

/** PHP is text with stretches of code between `<?php` or `<?=` and `?>`. */
function findPhpZones(text: string): Zone[] {
  const zones: Zone[] = [];
  for (let at = 0; at < text.length;) {
    const opened = /<\?(?:php\b|=)/i.exec(text.slice(at));
    const codeStart = opened === null ? text.length : at + opened.index;
    if (codeStart > at) zones.push({ kind: 'markup', start: at, end: codeStart });
    at = codeStart < text.length ? lexZones(PHP, text, codeStart, text.length, zones).end : text.length;
  }
  return zones;
}

function lexZones(lexis: Lexis, text: string, from: number, to: number, zones: Zone[]): { zones: Zone[]; end: number } {
  const between: ZoneKind = lexis.startsIn === 'markup' && lexis !== PHP ? 'markup' : 'code';
  const tokens = new RegExp(lexis.tokens.source, 'y');
  const starts = new RegExp(lexis.starts, 'g');
  starts.lastIndex = from;
  let at = from;
  for (let start = starts.exec(text); start !== null; start = starts.exec(text)) {
    tokens.lastIndex = start.index;
    const match = tokens.exec(text);
    if (match === null) continue;
    starts.lastIndex = tokens.lastIndex;
    if (match.index > at) zones.push({ kind: between, start: at, end: match.index });
    at = match.index + match[0].length;
    if (match.groups?.['close'] !== undefined) {
      zones.push({ kind: 'code', start: match.index, end: at });
      return { zones, end: at };
    }
    zones.push({ kind: match.groups?.['comment'] === undefined ? 'string' : 'comment', start: match.index, end: at });
  }
  if (at < to) zones.push({ kind: between, start: at, end: to });
  return { zones, end: to };
}

/** Returns the kind of the zone that an offset lies in. */
export function zoneAt(zones: readonly Zone[], offset: number): ZoneKind {
  let low = 0;
  let high = zones.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((zones[middle]?.start ?? 0) <= offset) low = middle;
    else high = middle - 1;
  }
  return zones[low]?.kind ?? 'text';
}

/** The bodies of classes, interfaces, traits and enumerations in code: what is declared in them is a member. */
export function findClassBodies(text: string, zones: readonly Zone[]): TextRange[] {
  const bodies: TextRange[] = [];
  let depth = 0;
  let isClassNext = false;
  const open: { depth: number; start: number }[] = [];
  for (const zone of zones) {
    if (zone.kind !== 'code') continue;
    // Within the zone alone: the next token can be far away, and there can be many zones before it.
    for (const match of text.slice(zone.start, zone.end).matchAll(/\b(?:class|interface|trait|enum)\b(?!\s*[=;:,)])|[{};]/g)) {
      const token = match[0];
      const at = zone.start + match.index;
      if (token === '{') {
        if (isClassNext) open.push({ depth, start: at });
        isClassNext = false;
        depth++;
      } else if (token === '}') {
        depth--;
        const last = open.at(-1);
        if (last?.depth === depth) bodies.push({ start: open.pop()?.start ?? 0, end: at + 1 });
      } else if (token === ';') isClassNext = false;
      else isClassNext = true;
    }
  }
  return bodies;
}
