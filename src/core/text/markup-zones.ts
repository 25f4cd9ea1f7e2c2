import type { LanguageName } from './languages.ts';
import type { Zone } from './zone.ts';

/** Cuts a stretch of one language up. */
type Lex = (language: LanguageName, text: string, from: number, to: number) => Zone[];

/** What never closes must not be looked for through the whole page, again for each sign that opens. */
const REACH = '[^]{0,8000}?';

/** Comments of markup and of the languages that templates are written in. */
const COMMENT = [
  '<!--[^]*?(?:-->|$)',
  '\\{\\{!--[^]*?(?:--\\}\\}|$)',
  '\\{\\{![^]*?(?:\\}\\}|$)',
  '\\{\\{--[^]*?(?:--\\}\\}|$)',
  `\\{\\{-?\\s*/\\*${REACH}\\*/\\s*-?\\}\\}`,
  '\\{#[^{}]*?#\\}',
  `\\{\\*${REACH}\\*\\}`,
  `\\{%-?\\s*comment\\b${REACH}\\{%-?\\s*endcomment\\s*-?%\\}`,
  `<%(?:--${REACH}--%>|#${REACH}%>)`,
  '<#--[^]*?(?:-->|$)',
  `@\\*${REACH}\\*@`,
].join('|');

/** Statements of template languages: what stands in them is code. */
const STATEMENT = `\\{%${REACH}%\\}|<%${REACH}%>|<#[a-z][^>]*>|\\[%${REACH}%\\]`;

const TOKENS = new RegExp(
  `(?<comment>${COMMENT})|(?<code>${STATEMENT})|(?<open><(?<tag>script|style)\\b(?:[^>"']|"[^"]*"|'[^']*')*>)|(?<handler>(?<=<[a-z][^<>]{0,2000}\\son[a-z]{3,20}\\s*=\\s*")[^"<>]+|(?<=<[a-z][^<>]{0,2000}\\son[a-z]{3,20}\\s*=\\s*')[^'<>]+)`,
  'gi',
);

/** Scripts in an element whose type says that they are not scripts. */
const NO_SCRIPT = /\btype\s*=\s*["']?(?!module\b|(?:text|application)\/(?:java|ecma)script\b|text\/babel\b)([\w+./-]+)/i;

/** The zones of a page: its tags and text, its comments, and the code within it. */
export function findMarkupZones(text: string, lex: Lex): Zone[] {
  const zones: Zone[] = [];
  let at = 0;
  const add = (kind: Zone['kind'], start: number, end: number, language: LanguageName = 'markup'): void => {
    if (start < end) zones.push({ kind, language, start, end });
  };
  const isExpressive = /\{%|\[%/.test(text);
  const tokens = new RegExp(isExpressive ? `${TOKENS.source}|(?<print>\\{\\{${REACH}\\}\\})` : TOKENS.source, 'gi');
  for (let match = tokens.exec(text); match !== null; match = tokens.exec(text)) {
    const { comment, code, print, handler, open = '', tag = '' } = match.groups ?? {};
    const start = match.index;
    let end = start + match[0].length;
    if (comment !== undefined) {
      add('markup', at, start);
      add('comment', start, end);
    } else if (handler !== undefined) {
      add('markup', at, start);
      zones.push(...lex('script', text, start, end));
    } else if (code !== undefined || print !== undefined) {
      add('markup', at, start);
      zones.push(...lex('expression', text, start, end));
    } else {
      // The tag itself is markup.
      add('markup', at, end);
      const closing = new RegExp(`</${tag}\\b|$`, 'i').exec(text.slice(end));
      const inner = end + (closing?.index ?? 0);
      const language = tag.toLowerCase() === 'style' ? 'sheet' : NO_SCRIPT.test(open) ? undefined : 'script';
      if (language === undefined) add('text', end, inner, 'script');
      else zones.push(...lex(language, text, end, inner));
      end = inner;
      tokens.lastIndex = inner;
    }
    at = end;
  }
  add('markup', at, text.length);
  return zones;
}
