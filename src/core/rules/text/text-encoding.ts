import type { Theme } from '../../theme/theme.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';
import { kindOfFile } from '../../contents/templates.ts';

const advise = advices({
  'save-without-mark': 'save it as UTF-8 without a byte-order mark',
});

/** Files that are served or read by the host in another encoding than UTF-8, or with a mark that shows on the page. */
export const textEncoding: Rule = {
  meta: {
    id: 'text/encoding',
    severity: 'warning',
    isSeen: true,
    isNameBlind: true,
    summary: 'A file is not plain UTF-8',
    why: 'Hosts read and send everything as UTF-8: letters with accents turn into other signs, and a byte-order mark before code or markup is sent to the browser as text.',
    messages: {
      other: '{path} is in {encoding}, not in UTF-8',
      mark: '{path} begins with a byte-order mark, which is sent to the browser',
    },
    example: {
      platform: 'vereda',
      wrong: { 'partials/note.html': '\uFEFF<p>{{page.title}}</p>\n', 'main.html': '{{> note}}\n' },
      right: { 'partials/note.html': '<p>{{page.title}}</p>\n', 'main.html': '{{> note}}\n' },
    },
  },
  *checkText(source, { theme }) {
    const path = source.file;
    if (!isServed(theme, path)) return;
    if (source.encoding !== 'utf-8')
      yield { message: 'other', args: { path, encoding: source.encoding }, file: path, source, hint: advise('save-utf8') };
    else if (source.hasMark && kindOfFile(theme, path) !== 'stylesheet')
      yield { message: 'mark', args: { path }, file: path, source, hint: advise('save-without-mark') };
  },
};

function isServed(theme: Theme, path: string): boolean {
  return ['stylesheet', 'script', 'code', 'markup'].includes(kindOfFile(theme, path));
}
