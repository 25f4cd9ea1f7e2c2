import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'end-lines': 'end all lines with {with}',
});

/** Files with more than one kind of line end. */
export const textLineEnds: Rule = {
  meta: {
    id: 'text/line-ends',
    severity: 'note',
    isNameBlind: true,
    summary: 'A file has several kinds of line ends',
    why: 'Every tool that saves it touches unrelated lines, and nobody can read the changes any more.',
    messages: { mixed: 'most lines end with {most}, and this one with {other}' },
    example: { platform: 'vereda', wrong: { 'docs/a.txt': 'one\ntwo\nthree\r\n' }, right: { 'docs/a.txt': 'one\ntwo\nthree\n' } },
  },
  *checkText(source) {
    const path = source.file;
    if (!source.text.includes('\r')) return;
    const ends = [...source.text.matchAll(/\r\n|\n|\r/g)];
    const windows = ends.filter(([end]) => end === '\r\n').length;
    const most = windows * 2 > ends.length ? '\r\n' : '\n';
    const odd = ends.find(([end]) => end !== most);
    if (odd === undefined || ends.length === 1) return;
    const names: Readonly<Record<string, string>> = { '\n': 'LF', '\r\n': 'CRLF', '\r': 'CR' };
    const range = { start: odd.index, end: odd.index + odd[0].length };
    const edits = ends.filter(([end]) => end !== most).map((end) => ({ start: end.index, end: end.index + end[0].length, text: most }));
    yield {
      message: 'mixed',
      args: { most: names[most], other: names[odd[0]] },
      file: path,
      source,
      range,
      hint: advise('end-lines', { with: names[most] ?? '' }),
      fix: { title: advise('end-lines', { with: names[most] ?? '' }), isSafe: true, file: path, edits },
    };
  },
};
