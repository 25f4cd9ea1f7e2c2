import { misspeltIn } from '../../names/misspelt.ts';
import { findZones } from '../../text/zones.ts';
import { isTemplate } from '../../contents/templates.ts';
import { advise } from '../advice.ts';
import { fixOf, type Rule } from '../rule.ts';

/** The theme's name in code, in a spelling that no identifier can have there: a search and replace left it. */
export const identifierMisspelt: Rule = {
  meta: {
    id: 'identifier/misspelt',
    severity: 'error',
    summary: 'The theme’s name in code, in a spelling that the language does not take',
    why: 'A hyphen or a blank within a name ends it: the file cannot be read, and the host stops.',
    messages: { misspelt: 'code cannot hold the name “{found}”: write {wanted}' },
    example: { none: 'it needs a theme whose id has two words' },
  },
  *checkText(source, { theme }) {
    const { text, file } = source;
    const { id } = theme.names;
    if (!/[-_]|[a-z][A-Z]/.test(id)) return;
    for (const edit of misspeltIn(text, findZones(file, text, isTemplate(theme, file)), id)) {
      const range = { start: edit.start, end: edit.end };
      const args = { found: text.slice(edit.start, edit.end), wanted: edit.text };
      yield { message: 'misspelt', args, file, source, range, fix: fixOf(advise('write', { value: edit.text }), true, file, [edit]) };
    }
  },
};
