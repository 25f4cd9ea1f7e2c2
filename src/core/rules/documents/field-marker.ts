import { keyPath } from '../../theme/documents.ts';
import { removeField } from '../../facts/write-field.ts';
import { advise } from '../advice.ts';
import { type Rule, fixOf } from '../rule.ts';

/** The marks of a kit in a theme that is meant to be used. */
export const fieldMarker: Rule = {
  meta: {
    id: 'field/marker',
    severity: 'warning',
    isOfOneFile: true,
    summary: 'A field that only a kit should have',
    why: 'Hosts hide a theme that is marked as a kit, or offer it as one.',
    messages: { left: '“{key}” marks a kit: a finished theme must not have it' },
    example: {
      platform: 'cordada',
      wrong: { 'cierzo.cordada.yaml': 'title: Cierzo\nis: theme\nhosts: ">=4"\nbase: none\nkit: true\n' },
      right: { 'cierzo.cordada.yaml': 'title: Cierzo\nis: theme\nhosts: ">=4"\nbase: none\n' },
    },
  },
  *check({ theme }) {
    for (const { document, field, node } of theme.facts) {
      if (!field.marker || document.source === undefined) continue;
      const key = keyPath(field);
      yield {
        message: 'left',
        args: { key: key.join('.') },
        file: document.path,
        source: document.source,
        range: node,
        hint: advise('take-out'),
        fix: fixOf(advise('take-out-key', { key: key.join('.') }), true, document.path, removeField(document, key)),
      };
    }
  },
};
