import { holdsAny, saysSo } from '../../text/comment-lines.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Comments of a kit that say that they are to be deleted. */
export const textDeleteLine: Rule = {
  meta: {
    id: 'text/delete-line',
    severity: 'warning',
    summary: 'A comment that says it is to be deleted',
    why: 'Kits mark lines that only they need; with them the theme can be kept out of the list, or taken for a kit.',
    messages: { left: 'the comment says that it should be deleted: “{text}”' },
    example: {
      platform: 'cordada',
      wrong: { 'bundles/base.yaml': '# Delete this line.\nsheets: [css/cierzo.css]\n' },
      right: { 'bundles/base.yaml': 'sheets: [css/cierzo.css]\n' },
    },
    isNameBlind: true,
  },
  *checkText(source, { theme }) {
    const says = theme.platform.contract.kits?.['delete-lines'] ?? [];
    if (says.length === 0 || !holdsAny(source.text, says)) return;
    let start = 0;
    for (const line of source.text.split('\n')) {
      const text = line.trim();
      const from = start + line.indexOf(text);
      if (saysSo(line, says))
        yield {
          message: 'left',
          args: { text },
          file: source.file,
          source,
          range: { start: from, end: from + text.length },
          hint: advise('take-out'),
        };
      start += line.length + 1;
    }
  },
};
