import { CONFIGURATION_FILE } from '../../configuration/configuration.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Where a conflict begins and ends, as version control programs and our own merges mark it; its middle says nothing by itself. */
const MARKS = /^(<<<<<<<|>>>>>>>) [^\n]*$/gm;

const advise = advices({
  'decide-conflict': 'keep one of the two versions, and delete the marks',
});

/** Marks of a conflict that was not decided. */
export const textConflict: Rule = {
  meta: {
    id: 'text/conflict',
    severity: 'error',
    isSeen: true,
    isNameBlind: true,
    isUnfinished: true,
    summary: 'The marks of a merge conflict were left in',
    why: 'Both versions are in the file, and no program can read it; visitors see the marks.',
    messages: { conflict: 'a merge conflict is not decided: “{text}”' },
    example: {
      platform: 'vereda',
      wrong: { 'main.html': '<<<<<<< cierzo\n<main>{{{page.content}}}</main>\n=======\n<p>{{{page.content}}}</p>\n>>>>>>> the site\n' },
      right: { 'main.html': '<main>{{{page.content}}}</main>\n' },
    },
  },
  *checkText(source) {
    const { file, text } = source;
    if (file === CONFIGURATION_FILE || text.search(MARKS) < 0) return;
    let isOpen = false;
    for (const { 0: mark, 1: sign, index } of text.matchAll(MARKS)) {
      const isEnd = sign === '>>>>>>>';
      const isTold = isEnd && isOpen;
      isOpen = !isEnd;
      if (isTold) continue;
      const found = mark.trimEnd();
      const range = { start: index, end: index + found.length };
      yield { message: 'conflict', args: { text: found }, file, source, range, hint: advise('decide-conflict') };
    }
  },
};
