import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Files and folders whose paths differ only by case. */
export const fileCase: Rule = {
  meta: {
    id: 'file/case',
    severity: 'error',
    summary: 'Two paths differ only by case',
    why: 'On macOS and Windows one of the two overwrites the other when the theme is unpacked.',
    messages: { twin: '{path} and {other} differ only by case' },
    example: {
      platform: 'vereda',
      wrong: { 'docs/Notes.txt': 'one', 'docs/notes.txt': 'two' },
      right: { 'docs/notes.txt': 'one', 'docs/more-notes.txt': 'two' },
    },
  },
  *check({ theme }) {
    const known = new Map<string, string>();
    for (const { path } of theme.tree.entries) {
      const folded = path.toLowerCase();
      const other = known.get(folded);
      if (other === undefined) known.set(folded, path);
      else yield { message: 'twin', args: { path, other }, file: path, hint: advise('other-name') };
    }
  },
};
