import { plainValue } from '../../documents/syntax.ts';
import { keyPath } from '../../theme/documents.ts';
import { setField } from '../../facts/write-field.ts';
import { advise } from '../advice.ts';
import { fixOf, type Rule } from '../rule.ts';

/** An entry that stands twice in a list. */
export const fieldTwice: Rule = {
  meta: {
    id: 'field/twice',
    severity: 'warning',
    isOfOneFile: true,
    summary: 'An entry that stands twice in a list',
    why: 'A stylesheet or script is loaded twice, or the second entry undoes what stands between the two.',
    messages: { twice: '“{entry}” stands twice in “{key}”', first: 'stands here first' },
    example: {
      platform: 'cordada',
      wrong: { 'bundles/base.yaml': 'sheets: [css/cierzo.css, css/cierzo.css]\n' },
      right: { 'bundles/base.yaml': 'sheets: [css/cierzo.css]\n' },
    },
    isNameBlind: true,
  },
  *check({ theme }) {
    for (const { document, field, node } of theme.facts) {
      if (node.kind !== 'list') continue;
      const values = node.items.map(plainValue);
      const left = values.filter((value, i) => values.indexOf(value) === i);
      if (!left.every((value) => typeof value === 'string')) continue;
      const key = keyPath(field);
      for (const [i, item] of node.items.entries()) {
        if (values.indexOf(values[i] ?? null) === i) continue;
        yield {
          message: 'twice',
          args: { entry: String(values[i]), key: key.join('.') },
          file: document.path,
          source: document.source,
          range: item,
          related: [
            { message: 'first', file: document.path, source: document.source, range: node.items[values.indexOf(values[i] ?? null)] },
          ],
          hint: advise('take-out'),
          fix: fixOf(advise('take-out-key', { key: String(values[i]) }), true, document.path, setField(document, key, left)),
        };
      }
    }
  },
};
