import type { TextRange } from './edits.ts';

/** The longest stretch around a range whose other characters are all of one class. */
export function stretchAround(text: string, { start, end }: TextRange, allowed: RegExp, reach: number): { text: string; start: number } {
  let from = start;
  let to = end;
  while (from > 0 && start - from < reach && allowed.test(text.charAt(from - 1))) from--;
  while (to < text.length && to - end < reach && allowed.test(text.charAt(to))) to++;
  return { text: text.slice(from, to), start: from };
}
