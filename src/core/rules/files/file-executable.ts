import { readBytes } from '../../files/read-text.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'drop-executable': 'take it away: chmod -x {path}',
});

/** Files that may be run as programs though they are not programs. */
export const fileExecutable: Rule = {
  meta: {
    id: 'file/executable',
    severity: 'warning',
    isNameBlind: true,
    summary: 'A file that is not a program may be run as one',
    why: 'The bit goes into the archive and onto the server; reviewers send such themes back.',
    messages: { bit: '{path} has the executable bit and is not a program' },
    example: { none: 'it is about a file’s mode, which a listing does not show' },
  },
  *check({ theme }) {
    for (const { path, kind, mode } of theme.tree.entries) {
      if (kind !== 'file' || (mode & 0o111) === 0) continue;
      if (
        readBytes(theme.tree, path, () => true)
          ?.subarray(0, 2)
          .toString('latin1') === '#!'
      )
        continue;
      yield { message: 'bit', args: { path }, file: path, hint: advise('drop-executable', { path }) };
    }
  },
};
