import { baseOf } from '../../files/file-tree.ts';
import { portableProblem } from '../../files/portable-names.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Names that other file systems cannot hold, or write in another way. */
export const filePortable: Rule = {
  meta: {
    id: 'file/portable',
    severity: 'warning',
    summary: 'A name cannot be unpacked everywhere',
    why: 'Windows refuses such a name, and the rest of the archive with it; a name in decomposed Unicode is another one on most servers.',
    messages: {
      device: 'Windows keeps the name “{name}” for a device',
      sign: '“{name}” holds a sign that Windows refuses in names',
      end: '“{name}” ends with a space or a full stop, which Windows drops',
      form: '“{name}” is not in Unicode’s composed form (NFC)',
    },
    example: { platform: 'vereda', wrong: { 'docs/what?.txt': 'x' }, right: { 'docs/what.txt': 'x' } },
  },
  *check({ theme }) {
    for (const { path } of theme.tree.entries) {
      const name = baseOf(path);
      const message = portableProblem(name);
      if (message !== undefined) yield { message, args: { name }, file: path, hint: advise('rename-with-references') };
    }
  },
};
