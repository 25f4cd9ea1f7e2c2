import { findEntry } from '../../documents/syntax.ts';
import { isInSpan } from '../../platform/platform.ts';
import { keyPath } from '../../theme/documents.ts';
import { renameField } from '../../facts/write-field.ts';
import { advise } from '../advice.ts';
import { type Rule, fixOf } from '../rule.ts';

/** Fields that the stated releases want under another name. */
export const fieldReplaced: Rule = {
  meta: {
    id: 'field/replaced',
    severity: 'warning',
    tag: 'outdated',
    isOfOneFile: true,
    isOfReleases: true,
    summary: 'A field that newer releases call otherwise',
    why: 'A release that knows only the new name behaves as if the field were not there.',
    messages: { replaced: '“{key}” is called “{by}” from release {since} on' },
    example: { none: 'no shipped platform has given a field another name' },
  },
  *check({ theme, releases }) {
    for (const { document, field, node } of theme.facts) {
      const by = field['replaced-by'];
      if (by === undefined || document.source === undefined || !isInSpan(field, releases)) continue;
      const key = keyPath(field);
      const isThere = findEntry(document.root, [...key.slice(0, -1), by]) !== undefined;
      yield {
        message: 'replaced',
        args: { key: key.join('.'), by, since: field.since ?? theme.platform.contract.releases[0] },
        file: document.path,
        source: document.source,
        range: node,
        hint: isThere ? advise('there-already', { name: by }) : advise('rename-it', { to: by }),
        fix: isThere
          ? undefined
          : fixOf(advise('rename-key', { from: key.join('.'), to: by }), true, document.path, renameField(document, key, by)),
      };
    }
  },
};
