import { isInSpan, otherPlace } from '../../platform/platform.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  move: 'move it to {to}',
});

/** Files in a place where newer releases of the host do not look any more. */
export const fileMoved: Rule = {
  meta: {
    id: 'file/moved',
    severity: 'error',
    isOfReleases: true,
    summary: 'A file is where the stated releases no longer look',
    why: 'A release that looks in the new place only behaves as if the file were not there.',
    messages: {
      old: '{path} is in the old place: from release {since} on the host looks in {place}',
      both: '{path} is in the old place only: older releases want it there, and from release {since} on the host looks in {place}',
    },
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
      const isForBoth = theme.platform.contract.files.some(
        (each) => each.required !== 'no' && isInSpan(each, releases) && otherPlace(rule.path, place, each.path) !== undefined,
      );
      for (const { kind, path } of theme.tree.entries) {
        const to = kind === 'folder' ? undefined : otherPlace(rule.path, place, path);
        if (to === undefined) continue;
        const isThere = theme.tree.get(to) !== undefined;
        // Older releases want it where it is, newer ones where its copy is.
        if (isForBoth && isThere) continue;
        const advice = isForBoth ? advise('copy', { from: path, to }) : advise('move', { to });
        const step = { op: isForBoth ? ('copy' as const) : ('move' as const), from: path, to };
        yield {
          message: isForBoth ? 'both' : 'old',
          args: { path, since: rule.since ?? '', place },
          file: path,
          hint: isThere ? advise('there-already', { name: to }) : advice,
          // A file of the theme's own is never written over.
          fix: isThere || kind === 'link' ? undefined : { title: advice, isSafe: true, file: path, edits: [], steps: [step] },
        };
      }
    }
  },
};
