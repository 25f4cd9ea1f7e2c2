import { isNeeded } from '../../platform/platform.ts';
import { advise } from '../advice.ts';
import { beginFix } from './begin-fix.ts';
import type { Rule } from '../rule.ts';

/** The errors of a document's syntax. */
export const documentSyntax: Rule = {
  meta: {
    id: 'document/syntax',
    severity: 'error',
    isOfOneFile: true,
    summary: 'A document breaks the rules of its syntax',
    why: 'A host that cannot read a document behaves as if it were not there, mostly without a word.',
    messages: { broken: '{title}: {problem}' },
    example: {
      platform: 'vereda',
      wrong: { 'sheet.css': '/*---\ntitle: Cierzo: the hut\nversion: 1.0.0\nhosts: ">=2"\n---*/\n' },
      right: { 'sheet.css': '/*---\ntitle: "Cierzo: the hut"\nversion: 1.0.0\nhosts: ">=2"\n---*/\n' },
    },
  },
  *check({ theme }) {
    for (const document of theme.documents) {
      // Where it is not there at all, it can be begun.
      const beginning = document.root === undefined ? beginFix(theme, document) : undefined;
      for (const problem of document.problems) {
        yield {
          message: 'broken',
          args: { title: document.title, problem: problem.message },
          file: document.path,
          source: document.source,
          range: problem,
          hint: beginning?.hint ?? (problem.hint === undefined ? undefined : advise('as-read', { text: problem.hint })),
          fix: beginning?.fix,
          isRefusal: isNeeded(document.contract.required, theme.isChild),
        };
      }
    }
  },
};
