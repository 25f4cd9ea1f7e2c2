import type { Zone, ZoneKind } from './zone.ts';
import type { TextRange } from './edits.ts';
import { endingOf } from './file-kinds.ts';
import { LANGUAGES, languageNamed, type LanguageName } from './languages.ts';
import { findMarkupZones } from './markup-zones.ts';
import { endOfPlainTemplate, endOfTemplate, REGEX } from './script-literals.ts';

/** How the text of a language is cut up. */
interface Lexer {
  /** Every character that a comment or string can begin with: looking for these first is much faster. */
  readonly starts: RegExp;
  readonly tokens: RegExp;
}

const STRING = /"(?:[^"\\]|\\[^])*"?|'(?:[^'\\]|\\[^])*'?/.source;
const HEREDOC = /<<<[ \t]*["']?(?<tag>\w+)["']?\n[^]*?(?:\n[ \t]*\k<tag>\b|$)/.source;

/** Strings of languages in which one may be broken off, or has signs that the table does not know. */
const OWN_STRINGS: Partial<Readonly<Record<LanguageName, string>>> = {
  // A template is read by itself: others may lie in it.
  script: `${STRING}|\`|${REGEX}`,
  php: `${STRING}|${HEREDOC}`,
  sheet: STRING,
  'sheet-with-lines': STRING,
  'sheet-by-indent': STRING,
};

/** Comments to the end of a line that end, or begin, otherwise. */
const OWN_LINES: Partial<Readonly<Record<LanguageName, string>>> = {
  php: '//(?:[^\\n?]|\\?(?!>))*|#(?!\\[)(?:[^\\n?]|\\?(?!>))*',
  // Behind a colon two slashes are part of an address.
  'sheet-with-lines': '(?<!:)//[^\\n]*',
  'sheet-by-indent': '(?<!:)//[^\\n]*',
  'data-lines': '(?<=(?:^|\\n)[ \\t]*)[#;][^\\n]*|(?<=\\s)#[^\\n]*',
};

const LEXERS = Object.fromEntries(Object.keys(LANGUAGES).map((name) => [name, lexerOf(name as LanguageName)])) as Readonly<
  Record<LanguageName, Lexer>
>;

function lexerOf(name: LanguageName): Lexer {
  const { line, block, strings } = languageNamed(name);
  const blocks = block.map(([open, close]) => `${escape(open)}[^]*?(?:${escape(close)}|$)`);
  const lines = line.map((sign) => `${sign === '#' ? '(?<![^\\s;,(){}[\\]])' : ''}${escape(sign)}[^\\n]*`);
  const comments = [...blocks, OWN_LINES[name] ?? lines.join('|')].filter((each) => each !== '');
  const literals = OWN_STRINGS[name] ?? strings.map(literalOf).join('|');
  const close = name === 'php' ? '|(?<close>\\?>)' : '';
  const signs = [...line, ...block.map(([open]) => open), ...strings].map((sign) => sign.charAt(0)).join('');
  const more = name === 'php' ? '<?' : name === 'script' ? '/' : '';
  return {
    starts: new RegExp(`[${escape(signs + more).replaceAll('-', '\\-')}]`, 'g'),
    tokens: new RegExp(`(?<comment>${comments.join('|') || '(?!)'})|(?<string>${literals || '(?!)'})${close}`, 'y'),
  };
}

/** A string ends on its line, unless its sign is a long one. A sign that never ends does not begin a string: an apostrophe, a lifetime. */
function literalOf(sign: string): string {
  const own = escape(sign);
  if (sign.length > 1 || sign === '`') return `${own}(?:[^\\\\]|\\\\[^])*?${own}`;
  return `${own}(?:[^${own}\\\\\\n]|\\\\[^])*${own}`;
}

function escape(text: string): string {
  return text.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&').replaceAll('\n', '\\n');
}

/**
 * The zones of a file, in order, without gaps. The file's ending tells its language; `isTemplate`: the platform says that
 * it is markup, whatever it ends with. Template languages are many, and their endings too: tags and statements tell them.
 */
export function findZones(file: string, text: string, isTemplate = false): Zone[] {
  const { kind, language: known } = endingOf(file);
  const inner = kind === 'other' && MAYBE_TAG.test(text) ? endingOf(file.replace(/(?:_t|\.\w+)$/, '')).language : undefined;
  const language = known ?? inner ?? (isTemplate || (kind === 'other' && isMarkup(text)) ? 'markup' : undefined);
  if (language === undefined) return kind === 'prose' ? withBlocks(text) : [{ kind: 'text', start: 0, end: text.length }];
  if (language === 'php') return findPhpZones(text);
  const zones = language === 'markup' ? findMarkupZones(text, lex) : lex(language, text, 0, text.length);
  // In a script by itself two braces are its own.
  return MAYBE_TAG.test(text) && (kind !== 'script' || isTemplate) ? withExpressions(text, zones) : zones;
}

/** The beginning and the end of a block of code in a text, with its language (CommonMark 0.31, 4.5). */
const FENCE = /^ {0,3}(`{3,}|~{3,})[ \t]*(\w*)[^\n`]*$/gm;
/** The same in reStructuredText: a directive, and the lines that are further in. */
const DIRECTIVE =
  /^( *)\.\. (?:code-block|code|sourcecode)::[ \t]*(\w+)[^\n]*\n(?:\1[ \t]+:[^\n]*\n)*(?:[ \t]*\n)+(?<code>(?:\1[ \t]+[^\n]*(?:\n|$)|[ \t]*\n)+)/gm;
/** Languages that people call otherwise than by the ending of their files. */
const CALLED: Readonly<Record<string, string>> = {
  javascript: 'js',
  typescript: 'ts',
  python: 'py',
  ruby: 'rb',
  bash: 'sh',
  shell: 'sh',
  rust: 'rs',
  golang: 'go',
};

/** A stretch of code in a text, and what its language is called. */
interface Block extends TextRange {
  readonly called: string;
}

/** The zones of a text: blocks of code, and the text around them. */
function withBlocks(text: string): Zone[] {
  const zones: Zone[] = [];
  let at = 0;
  const fences = text.includes('```') || text.includes('~~~') ? fencedIn(text) : [];
  for (const { called, start, end } of fences.length > 0 || !text.includes('::') ? fences : directivesIn(text)) {
    const { language, kind } = endingOf(`x.${CALLED[called] ?? called}`);
    // In data and in pages the text around says as much.
    if (language === undefined || kind === 'data' || language === 'markup' || start === end) continue;
    if (start > at) zones.push({ kind: 'text', start: at, end: start });
    zones.push(...lex(language, text, start, end));
    at = end;
  }
  if (at < text.length || zones.length === 0) zones.push({ kind: 'text', start: at, end: text.length });
  return zones;
}

/** Line by line: a fence that never closes must not be looked for through the whole text, again for each that opens. */
function fencedIn(text: string): Block[] {
  const blocks: Block[] = [];
  let open: { readonly fence: string; readonly called: string; readonly start: number } | undefined;
  for (const { 0: line, 1: fence = '', 2: called = '', index } of text.matchAll(FENCE)) {
    if (open === undefined) open = { fence, called: called.toLowerCase(), start: index + line.length + 1 };
    else if (fence.startsWith(open.fence) && line.trim() === fence) {
      blocks.push({ called: open.called, start: open.start, end: index });
      open = undefined;
    }
  }
  return blocks.filter(({ called }) => called !== '');
}

function directivesIn(text: string): Block[] {
  return [...text.matchAll(DIRECTIVE)].map((match) => {
    const end = match.index + match[0].length;
    return { called: (match[2] ?? '').toLowerCase(), start: end - (match.groups?.['code'] ?? '').length, end };
  });
}

const MAYBE_TAG = /\{\{|\{%|<%/;
/** What template languages put into a style or a script. */
const TAG = /(?<!\$)\{\{(?!\{)[^{}]{0,400}\}\}|\{%[^]{0,400}?%\}|<%[^]{0,400}?%>/g;
const TEMPLATED: ReadonlySet<LanguageName | undefined> = new Set(['sheet', 'sheet-with-lines', 'sheet-by-indent', 'script']);

/** Zones in which the tags of template languages in styles and scripts are expressions. */
function withExpressions(text: string, zones: readonly Zone[]): Zone[] {
  const tags = [...text.matchAll(TAG)]
    .map((match) => ({ start: match.index, end: match.index + match[0].length }))
    .filter(({ start }) => {
      const zone = zoneOf(zones, start);
      return zone?.kind !== 'comment' && TEMPLATED.has(zone?.language);
    });
  // Both are in the order of the text.
  const all: Zone[] = [];
  let next = 0;
  for (const zone of zones) {
    let at = zone.start;
    while ((tags[next]?.end ?? Infinity) <= at) next++;
    for (let i = next; (tags[i]?.start ?? Infinity) < zone.end; i++) {
      const tag = tags[i] ?? zone;
      if (tag.start > at) all.push({ ...zone, start: at, end: tag.start });
      if (tag.start >= zone.start) all.push(...lex('expression', text, tag.start, tag.end));
      at = tag.end;
    }
    if (at < zone.end) all.push({ ...zone, start: at });
  }
  return all;
}

/** Elements, or the statements of a template language. */
function isMarkup(text: string): boolean {
  return /<(?:!doctype\b|\/?[a-z][\w-]*(?:\s[^<>]*)?>)|\{%|\{\{|<%/i.test(text.slice(0, 20_000));
}

/** PHP is a page with stretches of code between `<?php` or `<?=` and `?>`. */
function findPhpZones(text: string): Zone[] {
  const code: Zone[] = [];
  const gaps: TextRange[] = [];
  for (let at = 0; at < text.length;) {
    const opened = /<\?(?:php\b|=)/i.exec(text.slice(at));
    const start = opened === null ? text.length : at + opened.index;
    if (start > at) gaps.push({ start: at, end: start });
    const own = start < text.length ? lex('php', text, start, text.length) : [];
    code.push(...own);
    at = own.at(-1)?.end ?? text.length;
  }
  if (gaps.length === 0) return code;
  // The page around the code is read as one: a script may begin before a stretch of it and end behind.
  let page = '';
  for (const { start, end } of gaps) page += ' '.repeat(start - page.length) + text.slice(start, end);
  const around = findMarkupZones(page, lex).flatMap((zone) => gaps.flatMap((gap) => cut(zone, gap)));
  return [...code, ...around].sort((a, b) => a.start - b.start);
}

/** The part of a zone that lies in a range. */
function cut(zone: Zone, { start, end }: TextRange): Zone[] {
  const own = { ...zone, start: Math.max(zone.start, start), end: Math.min(zone.end, end) };
  return own.start < own.end ? [own] : [];
}

/** Cuts a stretch of one language up; PHP ends with its closing tag. */
function lex(language: LanguageName, text: string, from: number, to: number): Zone[] {
  const { between } = languageNamed(language);
  const tokens = new RegExp(LEXERS[language].tokens);
  const starts = new RegExp(LEXERS[language].starts);
  const zones: Zone[] = [];
  const own = to === text.length ? text : text.slice(0, to);
  starts.lastIndex = from;
  let at = from;
  let isNested = true;
  for (let start = starts.exec(own); start !== null; start = starts.exec(own)) {
    tokens.lastIndex = start.index;
    const match = tokens.exec(own);
    if (match === null) continue;
    starts.lastIndex = tokens.lastIndex;
    if (language === 'script' && match[0] === '`') {
      const end: number | undefined = isNested ? endOfTemplate(own, match.index) : undefined;
      // Where one never ends, those behind it are read sign by sign: each would be looked for through the whole text.
      isNested = end !== undefined;
      starts.lastIndex = end ?? endOfPlainTemplate(own, match.index);
    }
    if (match.index > at) zones.push({ kind: between, language, start: at, end: match.index });
    at = starts.lastIndex;
    if (match.groups?.['close'] !== undefined) {
      zones.push({ kind: 'code', language, start: match.index, end: at });
      return zones;
    }
    zones.push({ kind: match.groups?.['comment'] === undefined ? 'string' : 'comment', language, start: match.index, end: at });
  }
  if (at < to) zones.push({ kind: between, language, start: at, end: to });
  return zones;
}

/** Returns the zone that an offset lies in. */
export function zoneOf(zones: readonly Zone[], offset: number): Zone | undefined {
  return zones[zoneIndex(zones, offset)];
}

/** Which of the zones an offset lies in. */
export function zoneIndex(zones: readonly Zone[], offset: number): number {
  let low = 0;
  let high = zones.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((zones[middle]?.start ?? 0) <= offset) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** Returns the kind of the zone that an offset lies in. */
export function zoneAt(zones: readonly Zone[], offset: number): ZoneKind {
  return zoneOf(zones, offset)?.kind ?? 'text';
}

/** How languages put code into strings: what opens it, and what the string begins with where that matters. */
const INTERPOLATIONS: Partial<Readonly<Record<LanguageName, { readonly open: string; readonly string?: RegExp }>>> = {
  script: { open: '${', string: /^`/ },
  ruby: { open: '#{' },
  python: { open: '{', string: /^["']/ },
  'c-like': { open: '${' },
  shell: { open: '${' },
};

/** Whether a place in a string is code that stands in it: `${x}`, `#{x}`, f'{x}'. */
export function isInterpolated(text: string, { kind, language, start }: Zone, at: number): boolean {
  const how = language === undefined || kind !== 'string' ? undefined : INTERPOLATIONS[language];
  if (how === undefined || how.string?.test(text.slice(start, start + 1)) === false) return false;
  if (language === 'python' && !/[fF]$/.test(text.slice(Math.max(0, start - 1), start))) return false;
  const head = text.slice(Math.max(start, at - 400), at);
  const open = head.lastIndexOf(how.open);
  if (open < 0 || head.charAt(open - 1) === '\\') return false;
  // Quotes within the code begin a string again.
  const code = head.slice(open).replace(/"[^"]*"|'[^']*'|`[^`]*`/g, '');
  return !/[}"'`]/.test(code);
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
