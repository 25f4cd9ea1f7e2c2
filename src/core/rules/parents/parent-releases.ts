import { releasesInRange } from '../../platform/platform.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';
import { relatedFact } from '../related.ts';

const advise = advices({
  'state-range': 'state the parent’s range, {range}, or take a newer parent',
});

/** Parents that are not made for all releases that the child says it is for. */
export const parentReleases: Rule = {
  meta: {
    id: 'parent/releases',
    severity: 'warning',
    summary: 'The parent is not made for all releases that the child is for',
    why: 'On such a release the host takes the child and not its parent, and shows pages without templates or styles.',
    messages: {
      missing: 'the parent “{parent}” is not made for {releases}, which this theme says it is for',
      range: 'what “{parent}” says it is for',
    },
    example: {
      platform: 'vereda',
      siblings: { noche: { 'sheet.css': '/*---\ntitle: Noche\nversion: 1.0.0\nhosts: ">=3"\n---*/\n' } },
      wrong: { 'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\nparent: noche\nparent-sheet: before\n---*/\n' },
      right: { 'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=3"\nparent: noche\nparent-sheet: before\n---*/\n' },
    },
  },
  *check({ theme, chain, releases }) {
    const fact = theme.facts.find(({ field }) => field.type === 'range');
    if (fact === undefined) return;
    for (const parent of chain.themes.slice(1)) {
      if (!theme.parents.includes(parent.names.id)) continue;
      const stated = parent.facts.find(({ field }) => field.type === 'range');
      const range = typeof stated?.value === 'string' ? stated.value : undefined;
      const known = releasesInRange(parent.platform, range);
      const missing = releases.filter((release) => !known.includes(release));
      if (missing.length === 0) continue;
      yield {
        message: 'missing',
        args: { parent: parent.names.id, releases: missing.join(', ') },
        file: fact.document.path,
        source: fact.document.source,
        range: fact.node,
        related: relatedFact(parent, stated, 'range', { parent: parent.names.id }),
        hint: advise('state-range', { range: range ?? 'none' }),
      };
    }
  },
};
