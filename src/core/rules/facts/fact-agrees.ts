import { isOneOfMany, keyPath, type Fact } from '../../theme/documents.ts';
import { setField } from '../../facts/write-field.ts';
import { findEntry } from '../../documents/syntax.ts';
import { advices } from '../advice.ts';
import { type Rule, fixOf } from '../rule.ts';
import { placeOfFact } from '../related.ts';

const advise = advices({
  sync: 'make them agree with “pionero meta sync”',
});

/** Two documents that say different things of one fact. */
export const factAgrees: Rule = {
  meta: {
    id: 'fact/agrees',
    severity: 'warning',
    summary: 'Two documents disagree',
    why: 'The host reads one of them and people read the other.',
    messages: { differs: '“{key}” is “{found}” here, but “{wanted}” in {other}', other: '“{wanted}” stands here' },
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
      if (isMap(value) && isMap(first.value)) {
        for (const [entry, label] of Object.entries(value)) {
          const wanted = first.value[entry];
          const at = [...keyPath(field), entry];
          if (wanted === undefined || wanted === label) continue;
          yield {
            message: 'differs',
            args: { key: at.join('.'), found: label, wanted, other: first.document.path },
            file: document.path,
            source: document.source,
            range: findEntry(document.root, at)?.value ?? node,
            related: [{ message: 'other', args: { wanted }, ...placeOfFact(first) }],
            hint: advise('write', { value: wanted }),
            fix: fixOf(advise('write', { value: wanted }), false, document.path, setField(document, at, wanted)),
          };
        }
        continue;
      }
      if (typeof value !== 'string' || typeof first.value !== 'string' || value === first.value) continue;
      yield {
        message: 'differs',
        args: { key: keyPath(field).join('.'), found: value, wanted: first.value, other: first.document.path },
        file: document.path,
        source: document.source,
        range: node,
        related: [{ message: 'other', args: { wanted: first.value }, ...placeOfFact(first) }],
        hint: advise('sync'),
        fix: fixOf(advise('write', { value: first.value }), false, document.path, setField(document, keyPath(field), first.value)),
      };
    }
  },
};

function isMap(value: Fact['value']): value is Readonly<Record<string, string>> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
