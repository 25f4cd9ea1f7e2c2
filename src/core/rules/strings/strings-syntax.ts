import { catalogueProblems } from '../../contents/catalogues.ts';
import { problemOfCode } from '../../documents/code-problems.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({ 'correct-catalogue': 'correct it there, or a little before' });

/** Catalogues of texts that their format does not allow. */
export const stringsSyntax: Rule = {
  meta: {
    id: 'strings/syntax',
    severity: 'error',
    isNameBlind: true,
    isSeen: true,
    summary: 'A catalogue of texts cannot be read',
    why: 'The host does without all texts of that language, or stops.',
    messages: { broken: '{path} cannot be read: {problem}' },
    example: {
      platform: 'hexo',
      wrong: { 'languages/es.yml': 'menu: [home\n' },
      right: { 'languages/es.yml': 'menu:\n  home: Inicio\n' },
    },
  },
  *check({ theme }) {
    const documents = new Set(theme.documents.map((each) => each.path));
    for (const { path, source, problem } of catalogueProblems(theme)) {
      // Errors of the file's own language are found there, and in documents.
      if (documents.has(path) || problemOfCode(path, source.text) !== undefined) continue;
      const args = { path, problem: problem.message };
      yield { message: 'broken', args, file: path, source, range: problem, hint: advise('correct-catalogue') };
    }
  },
};
