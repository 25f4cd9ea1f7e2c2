import { matchesGlob } from '../../files/glob.ts';
import type { Rule } from '../rule.ts';

/** What a public directory asks of the themes that are handed in. Looked at only for a submission. */
export const submissionContents: Rule = {
  meta: {
    id: 'submission/contents',
    severity: 'error',
    summary: 'A submission lacks a file, or holds one that it must not',
    why: 'The directory’s reviewers send it back without looking further.',
    messages: { requires: 'a submission must hold {glob}', forbids: 'a submission must not hold {path}' },
  },
  *check({ theme, purpose }) {
    if (purpose !== 'submission') return;
    const { requires, forbids } = theme.platform.contract.package.submission;
    const paths = theme.tree.entries.flatMap(({ kind, path }) => (kind === 'folder' ? [] : [path]));
    for (const glob of requires) {
      if (!paths.some((path) => matchesGlob(path, glob))) yield { message: 'requires', args: { glob }, file: glob, hint: 'add it' };
    }
    for (const path of paths) {
      if (forbids.some((glob) => matchesGlob(path, glob))) yield { message: 'forbids', args: { path }, file: path, hint: 'remove it' };
    }
  },
};
