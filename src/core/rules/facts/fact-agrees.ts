import { isOneOfMany, keyPath } from '../../theme/documents.ts';
import { setField } from '../../theme/write-field.ts';
import { advise } from '../advice.ts';
import { type Rule, fixOf } from '../rule.ts';

/** Two documents that say different things of one fact. */
export const factAgrees: Rule = {
  meta: {
    id: 'fact/agrees',
    severity: 'warning',
    summary: 'Two documents disagree',
    why: 'The host reads one of them and people read the other.',
    messages: { differs: '“{key}” is “{found}” here, but “{wanted}” in {other}' },
    example: {
      platform: 'vereda',
      wrong: { 'README.md': '<!--\nVersion: 0.9.0\n-->\n# Cierzo\n' },
      right: { 'README.md': '<!--\nVersion: 0.1.0\n-->\n# Cierzo\n' },
    },
  },
  *check({ theme }) {
    for (const { name, value, document, field, node } of theme.facts) {
      const first = theme.fact(name);
      // The place on the shelf decides on id and vendor; a rule of its own says so.
      if (first === undefined || first.document === document || name === 'id' || name === 'vendor' || isOneOfMany(document)) continue;
      if (typeof value !== 'string' || typeof first.value !== 'string' || value === first.value) continue;
      yield {
        message: 'differs',
        args: { key: keyPath(field).join('.'), found: value, wanted: first.value, other: first.document.path },
        file: document.path,
        source: document.source,
        range: node,
        hint: advise('sync'),
        fix: fixOf(advise('write', { value: first.value }), false, document.path, setField(document, keyPath(field), first.value)),
      };
    }
  },
};
