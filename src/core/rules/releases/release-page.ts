import { withEndings } from '../../templates/template-index.ts';
import { compareReleases, isInSpan } from '../../platform/platform.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'move-page': 'move it to {to}, the template of the page “{by}”',
});

/** Templates of pages that none of the stated releases asks for. */
export const releasePage: Rule = {
  meta: {
    id: 'release/page',
    severity: 'warning',
    isOfReleases: true,
    summary: 'A template of a page that no stated release asks for',
    why: 'The host never shows it: what was changed there is missed by visitors.',
    messages: {
      past: 'the page “{role}” was asked for until release {until}: nothing shows this template',
      early: 'the page “{role}” is asked for from release {since} on: the stated releases do not show this template',
    },
    example: {
      platform: 'cordada',
      wrong: { 'markup/notice.html': '<p>{{page.title}}</p>\n' },
      right: { 'markup/entry.html': '<p>{{page.title}}</p>\n' },
    },
  },
  *check({ theme, releases, areReleasesKnown }) {
    const { templates } = theme.platform.contract;
    if (templates === undefined || !areReleasesKnown || releases.length === 0) return;
    const asked = Object.values(templates.roles).filter((role) => isInSpan(role, releases));
    for (const [name, role] of Object.entries(templates.roles)) {
      if (isInSpan(role, releases)) continue;
      const { since, until, 'replaced-by': by } = role;
      const isPast = until !== undefined && releases.every((release) => compareReleases(release, until) > 0);
      for (const file of withEndings(templates, role.file)) {
        if (theme.tree.get(file)?.kind !== 'file' || asked.some((each) => withEndings(templates, each.file).includes(file))) continue;
        const ending = file.slice(role.file.length);
        const target = by === undefined ? undefined : templates.roles[by]?.file;
        const to = target === undefined ? undefined : `${target}${role.file.endsWith('.html') ? '' : ending}`;
        const isFree = to !== undefined && theme.tree.get(to) === undefined;
        const hint =
          to === undefined || by === undefined
            ? advise('take-out')
            : isFree
              ? advise('move-page', { to, by })
              : advise('there-already', { name: to });
        yield {
          message: isPast ? 'past' : 'early',
          args: { role: name, until, since },
          file,
          hint,
          fix: isPast && isFree ? { title: hint, isSafe: true, file, edits: [], steps: [{ op: 'move', from: file, to }] } : undefined,
        };
      }
    }
  },
};
