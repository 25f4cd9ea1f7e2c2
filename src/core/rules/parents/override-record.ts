import { readOverrides } from '../../contents/overrides.ts';
import { OVERRIDES_FILE } from '../../contents/package-contents.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'drop-record': 'take it off the record: pionero override {file} --drop',
  'mend-record': 'mend it, or take the file away: then nothing is on record',
});

/** A record of files taken from a parent that does not fit what is there. */
export const overrideRecord: Rule = {
  meta: {
    id: 'override/record',
    severity: 'warning',
    summary: 'The record of what was taken from a parent does not fit the theme',
    why: 'Only the record shows how a file changed in the parent: Pionero cannot report on an entry that is wrong.',
    messages: {
      gone: '{file} is on record as taken from {theme}, and is not there',
      broken: 'it cannot be read: {problem}',
    },
    example: {
      platform: 'vereda',
      wrong: {
        'pionero.overrides.yaml':
          'overrides:\n  - file: partials/gone.html\n    theme: lumbre\n    from: partials/gone.html\n    sha256: e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855\n    taken: 2026-11-01\n',
      },
      right: {},
    },
  },
  *check({ theme }) {
    const { taken, places, problems, source } = readOverrides(theme.tree);
    const at = { file: OVERRIDES_FILE, source };
    for (const { message: problem, ...range } of problems)
      yield { ...at, message: 'broken', args: { problem }, range, hint: advise('mend-record') };
    for (const [i, { file, theme: parent }] of taken.entries()) {
      if (theme.tree.get(file)?.kind === 'file') continue;
      yield { ...at, message: 'gone', args: { file, theme: parent }, range: places[i], hint: advise('drop-record', { file }) };
    }
  },
};
