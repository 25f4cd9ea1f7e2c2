import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';
import { kindOfFile } from '../../contents/templates.ts';

const MACHINE =
  /\bfile:\/\/\/[^\s"'<>)]+|(?<![\w.:/-])\/(?:home|Users)\/[\w.-]+\/[\w./-]+|\b[A-Z]:[\\/]{1,2}Users[\\/][^\s"'<>)]+|\bhttps?:\/\/(?:localhost|127\.0\.0\.1)(?::\d+)?[^\s"'<>)]*/g;

/** One of them stands in all of these: looked for by themselves, they are found, or not, in a quarter of the time. */
const PARTS = ['file:///', '/home/', 'Users', '://localhost', '://127.0.0.1'];

const advise = advices({
  'write-theme-path': 'write the path from the theme, or the host’s own address',
});

/** A drawing program’s note to itself: an attribute of its own namespace, which no browser follows. */
const OF_PROGRAM = /\s(?!xlink:href|xml:base)[a-z]+:[\w-]+\s*=\s*(?:"[^"]*|'[^']*)$/;

function isNoteOfProgram(text: string, at: number): boolean {
  return OF_PROGRAM.test(text.slice(Math.max(0, at - 200), at));
}

/** Paths and addresses that exist on the developer's machine only. */
export const textMachinePath: Rule = {
  meta: {
    id: 'text/machine-path',
    severity: 'error',
    isSeen: true,
    isNameBlind: true,
    summary: 'A path of the developer’s own machine',
    why: 'It works for nobody else, and tells everybody how the machine is set up.',
    messages: { path: '“{path}” exists on your machine only' },
    example: {
      platform: 'vereda',
      wrong: { 'main.html': '<img alt="" src="http://localhost:8080/hut.png">\n' },
      right: { 'main.html': '<p>{{page.title}}</p>\n' },
    },
  },
  *checkText(source, { theme }) {
    if (!PARTS.some((part) => source.text.includes(part)) || ['prose', 'source-map'].includes(kindOfFile(theme, source.file))) return;
    for (const match of source.text.matchAll(MACHINE)) {
      const range = { start: match.index, end: match.index + match[0].length };
      yield {
        message: 'path',
        args: { path: match[0] },
        file: source.file,
        source,
        range,
        severity: isNoteOfProgram(source.text, match.index) ? 'note' : undefined,
        hint: advise('write-theme-path'),
      };
    }
  },
};
