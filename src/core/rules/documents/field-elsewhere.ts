import { isMet } from '../../theme/conditions.ts';
import { keyPath } from '../../theme/documents.ts';
import { removeField } from '../../facts/write-field.ts';
import { advise } from '../advice.ts';
import { type Rule, fixOf } from '../rule.ts';

/** Fields that count only in a theme that says something else of itself. */
export const fieldElsewhere: Rule = {
  meta: {
    id: 'field/elsewhere',
    severity: 'warning',
    summary: 'A field that does not count beside what another one says',
    why: 'Hosts ignore such a field, or refuse the theme: whoever wrote it waits for an effect that never comes.',
    messages: { elsewhere: '“{key}” counts only where {fact} is {values}' },
    example: { none: 'none of the shipped hosts has a field that another one switches on' },
  },
  *check({ theme }) {
    for (const { document, field, node } of theme.facts) {
      const condition = field['allowed-when'];
      if (condition === undefined || isMet(condition, theme.facts)) continue;
      const key = keyPath(field);
      const { fact, is } = condition;
      yield {
        message: 'elsewhere',
        args: { key: key.join('.'), fact, values: is.includes('*') ? 'stated' : is.map((value) => `“${value}”`).join(' or ') },
        file: document.path,
        source: document.source,
        range: node,
        hint: advise('take-out'),
        fix: fixOf(advise('take-out-key', { key: key.join('.') }), false, document.path, removeField(document, key)),
      };
    }
  },
};
