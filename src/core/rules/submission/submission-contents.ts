import { matchesGlob } from '../../files/glob.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';
import { submissionProblems, choosePackageContents } from '../../contents/package-contents.ts';

const advise = advices({
  'add-it': 'add it',
  'remove-or-exclude': 'remove it, or leave it out of packages',
  'see-exclude': 'it is left out of packages: see pack.exclude',
});

/** The demands of a public directory on the themes that are handed in. Looked at only for a submission. */
export const submissionContents: Rule = {
  meta: {
    id: 'submission/contents',
    severity: 'error',
    summary: 'A submission lacks a file, or holds one that it must not',
    why: 'The directory’s reviewers send it back without looking further.',
    messages: { requires: 'a submission must hold {glob}', forbids: 'a submission must not hold {path}' },
    example: { none: 'it is looked at only for a submission' },
  },
  *check({ theme, purpose, excluded }) {
    if (purpose !== 'submission') return;
    // A file that is not packed is not handed in.
    for (const problem of submissionProblems(theme, choosePackageContents(theme, excluded))) {
      if (problem.kind === 'requires') {
        const { glob } = problem;
        const isLeftOut = theme.tree.entries.some(({ kind, path }) => kind !== 'folder' && matchesGlob(path, glob));
        yield {
          message: 'requires',
          args: { glob },
          file: glob,
          hint: advise(isLeftOut ? 'see-exclude' : 'add-it'),
        };
      } else yield { message: 'forbids', args: { path: problem.path }, file: problem.path, hint: advise('remove-or-exclude') };
    }
  },
};
