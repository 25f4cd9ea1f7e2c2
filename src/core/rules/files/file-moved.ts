import { isInSpan } from '../../platform/platform.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Files in a place where newer releases of the host do not look any more. */
export const fileMoved: Rule = {
  meta: {
    id: 'file/moved',
    severity: 'error',
    summary: 'A file lies where the stated releases no longer look',
    why: 'A release that looks in the new place only behaves as if the file were not there.',
    messages: { old: '{path} is in the old place: from release {since} on the host looks in {place}' },
    example: {
      platform: 'bloque',
      wrong: { 'page-blocks/list.html': '{{#entries}}<p>{{title}}</p>{{/entries}}\n' },
      right: { 'pages/list.html': '{{#entries}}<p>{{title}}</p>{{/entries}}\n' },
    },
  },
  *check({ theme, releases }) {
    for (const rule of theme.platform.contract.files) {
      const place = rule['moved-to'];
      if (place === undefined || !isInSpan(rule, releases)) continue;
      const folder = `${rule.path.replace(/\/$/, '')}/`;
      for (const entry of theme.tree.entries) {
        if (entry.kind === 'folder' || (entry.path !== rule.path && !entry.path.startsWith(folder))) continue;
        const target = entry.path === rule.path ? place : `${place.replace(/\/$/, '')}/${entry.path.slice(folder.length)}`;
        yield {
          message: 'old',
          args: { path: entry.path, since: rule.since ?? '', place },
          file: entry.path,
          hint: advise('move', { to: target }),
        };
      }
    }
  },
};
