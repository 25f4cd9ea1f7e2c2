import { findEntry } from '../../documents/syntax.ts';
import { removeField } from '../../facts/write-field.ts';
import { compareReleases, isInSpan } from '../../platform/platform.ts';
import { keyPath } from '../../theme/documents.ts';
import { advise } from '../advice.ts';
import { fixOf, type Rule } from '../rule.ts';

/** Fields that none of the stated releases reads. */
export const releaseField: Rule = {
  meta: {
    id: 'release/field',
    severity: 'note',
    tag: 'outdated',
    isOfOneFile: true,
    isOfReleases: true,
    summary: 'A field that no stated release of the host reads',
    why: 'The field has no effect, and readers of the manifest believe that it has.',
    messages: {
      past: '“{key}” was read until release {until}, and the theme is for newer ones',
      early: '“{key}” is read from release {since} on, and the theme is for older ones',
    },
    example: {
      platform: 'cordada',
      wrong: { 'cierzo.cordada.yaml': 'title: Cierzo\nis: theme\nhosts: ">=4"\nrelease-line: "3"\nbase: none\n' },
      right: { 'cierzo.cordada.yaml': 'title: Cierzo\nis: theme\nhosts: ">=4"\nbase: none\n' },
    },
  },
  *check({ theme, releases, areReleasesKnown }) {
    if (!areReleasesKnown) return;
    for (const document of theme.documents) {
      if (document.root === undefined) continue;
      for (const field of document.contract.fields) {
        const { since, until } = field;
        // One that has another name by now has a finding of its own.
        if (isInSpan(field, releases) || field['replaced-by'] !== undefined || releases.length === 0) continue;
        const key = keyPath(field);
        const entry = findEntry(document.root, key);
        const isOther = document.contract.fields.some(
          (each) => each !== field && keyPath(each).join('\0') === key.join('\0') && isInSpan(each, releases),
        );
        if (entry === undefined || isOther) continue;
        const isPast = until !== undefined && releases.every((release) => compareReleases(release, until) > 0);
        yield {
          message: isPast ? 'past' : 'early',
          args: { key: key.join('.'), until, since },
          file: document.path,
          source: document.source,
          range: { start: entry.keyStart, end: entry.keyEnd },
          hint: advise('take-out-key', { key: key.join('.') }),
          // A field that newer releases read may be there for them.
          fix: fixOf(advise('take-out-key', { key: key.join('.') }), isPast, document.path, removeField(document, key)),
        };
      }
    }
  },
};
