import * as z from 'zod';
import semver from 'semver';
import { isMadeFor } from '../../facts/made-for.ts';
import { advices } from '../advice.ts';
import { defineRule } from '../rule.ts';
import { relatedFact } from '../related.ts';

const advise = advices({
  'widen-range': 'try the theme with {version}, then widen the range; or put a fitting parent on the shelf',
  'write-like-range': 'write one like >=2.1 <3 or ^2.1.0',
});

/** A parent in a version that the child was not made for: the developer says which in the manifest or in pionero.yaml. */
export const parentVersion = defineRule({
  meta: {
    id: 'parent/version',
    severity: 'warning',
    summary: 'The parent is a version that the child was not made for',
    why: 'A newer parent may have renamed what the child changes, an older one may lack what it builds on.',
    get options() {
      return {
        'made-for': z
          .record(z.string(), z.string())
          .default({})
          .describe('The versions of each parent, by its id, that the theme is made for: a range'),
      };
    },
    messages: {
      other: 'the parent “{parent}” is version {version}, and this theme is made for {range}',
      version: 'the version of “{parent}”',
      malformed: '“{range}” is not a range of versions',
    },
    example: { none: 'it is about a range in pionero.yaml: rules: { parent/version: { made-for: { albar: ">=2 <3" } } }' },
  },
  *check({ theme, chain, options }) {
    const { 'made-for': statedBy, fact: parentFact } = theme.platform.contract.inheritance;
    const stated = statedBy === undefined ? undefined : theme.fact(statedBy);
    for (const parent of chain.themes.slice(1)) {
      const { id } = parent.names;
      const isStated = typeof stated?.value === 'string' && theme.parents[0] === id;
      const range = isStated ? stated.value : options['made-for'][id];
      const place = isStated ? stated : theme.fact(parentFact);
      if (typeof range !== 'string' || place === undefined) continue;
      const at = { file: place.document.path, source: place.document.source, range: place.node };
      const version = parent.text('version');
      if (semver.validRange(range) === null) yield { ...at, message: 'malformed', args: { range }, hint: advise('write-like-range') };
      else if (version !== undefined && !isMadeFor(version, range)) {
        const hint = advise('widen-range', { version });
        const related = relatedFact(parent, parent.fact('version'), 'version', { parent: id });
        yield { ...at, message: 'other', args: { parent: id, version, range }, related, hint };
      }
    }
  },
});
