import type { TextRange } from '../text/edits.ts';
import { kindOfPath } from '../text/file-kinds.ts';
import type { TokenContext } from './token-context.ts';

/** Whether a name stands by itself in a place that holds ids: a value of data, quotes, a path. */
export function isAlone({ start, end }: TextRange, { text, zone, file }: TokenContext): boolean {
  const before = text.charAt(start - 1);
  const after = text.charAt(end);
  if (zone === 'path') return /^$|[./]/.test(before) && /^$|[./]/.test(after);
  if (isQuoted(before, after)) return true;
  if (before === '/' ? /^(?:$|["'`)\s/,;?#<]|\.\w)/.test(text.slice(end, end + 2)) : after === '/' && /^$|["'`(=\s]/.test(before))
    return true;
  if (zone === 'comment' || zone === 'code') return false;
  return kindOfPath(file) === 'data' && isWholeValue(text, start, end);
}

function isQuoted(before: string, after: string): boolean {
  return (/["'`]/.test(before) && before === after) || (before === '“' && after === '”');
}

/** `key: x`, `key=x`, `- x`, `[x, y]`, `a,x;b`, `>x<`. */
export function isWholeValue(text: string, start: number, end: number): boolean {
  const head = text.slice(Math.max(0, start - 80), start);
  return /(?:^|\n\s*|[:=[,;>|]\s*|\n\s*-\s+)$/.test(head) && /^\s*(?:$|[\r\n\],;<|#])/.test(text.slice(end, end + 80));
}

/** Objects whose members are the names that all scripts share. */
const SHARED = /(?:^|[^\w$.])(?:window|globalThis|self)\s*\[\s*["'`]$/;

/** `window["albar"]`, which is `window.albar`: what scripts name by a point elsewhere. */
export function isMemberInBrackets(text: string, { start, end }: TextRange): boolean {
  if (!/^["'`]\s*\]/.test(text.slice(end, end + 10))) return false;
  const head = text.slice(Math.max(0, start - 60), start);
  if (SHARED.test(head)) return true;
  const object = /([\w$]+)\s*\[\s*["'`]$/.exec(head)?.[1];
  return object !== undefined && new RegExp(`(?<![\\w$])${object.replaceAll('$', '\\$')}\\.${text.slice(start, end)}(?![\\w$])`).test(text);
}
