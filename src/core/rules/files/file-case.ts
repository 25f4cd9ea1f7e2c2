import { foldedPath } from '../../files/portable-names.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'other-name': 'give one of them another name',
});

/** Files and folders whose paths differ only by case, or by letters with their marks in one or apart. */
export const fileCase: Rule = {
  meta: {
    id: 'file/case',
    severity: 'error',
    summary: 'Two paths differ only by case',
    why: 'On macOS and Windows one of the two overwrites the other when the theme is unpacked.',
    messages: {
      twin: '{path} and {other} differ only by case',
      form: '{path} and {other} are the same letters, with their marks in one or apart',
    },
    example: {
      platform: 'vereda',
      wrong: { 'docs/Notes.txt': 'one', 'docs/notes.txt': 'two' },
      right: { 'docs/notes.txt': 'one', 'docs/more-notes.txt': 'two' },
    },
  },
  *check({ theme }) {
    const known = new Map<string, string>();
    for (const { path } of theme.tree.entries) {
      const folded = foldedPath(path);
      const other = known.get(folded);
      if (other === undefined) known.set(folded, path);
      else
        yield {
          message: path.normalize('NFC') === other.normalize('NFC') ? 'form' : 'twin',
          args: { path, other },
          file: path,
          hint: advise('other-name'),
        };
    }
  },
};
