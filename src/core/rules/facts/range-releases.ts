import { releasesInRange } from '../../platform/platform.ts';
import semver from 'semver';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'write-release': 'write {release}, or the releases that it was tried with',
  'write-range': 'write >={release}, or the oldest release that it was tried with',
});

/** Ranges that take in none of the host's releases. */
export const rangeReleases: Rule = {
  meta: {
    id: 'range/releases',
    severity: 'error',
    isOfOneFile: true,
    summary: 'The range of releases takes in none that there is',
    why: 'No host will offer the theme, and the rules for single releases have nothing to go by.',
    messages: { none: '“{range}” includes none of the releases {releases}' },
    example: {
      platform: 'vereda',
      wrong: { 'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=9"\n---*/\n' },
      right: { 'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=4 <5"\n---*/\n' },
    },
  },
  *check({ theme }) {
    const { releases } = theme.platform.contract;
    for (const { document, field, node, value } of theme.facts) {
      const isList = (field.of === 'range' || field.of === 'release') && Array.isArray(value);
      const isPlain = field.type === 'release' || field.of === 'release';
      const range = isList
        ? (value as readonly string[]).join(' || ')
        : (field.type === 'range' || field.type === 'release') && typeof value === 'string'
          ? value
          : undefined;
      if (range === undefined || range === '' || semver.validRange(range) === null) continue;
      if (releasesInRange(theme.platform, range).length > 0) continue;
      yield {
        message: 'none',
        args: { range, releases: releases.join(', ') },
        file: document.path,
        source: document.source,
        range: node,
        isRefusal: true,
        hint: advise(isPlain ? 'write-release' : 'write-range', { release: releases.at(-1) ?? '' }),
      };
    }
  },
};
