import { declaredRegions, printedRegions } from '../../contents/regions.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'print-or-take-out': 'print it with {shape}, or take it out',
});

/** Regions that a theme declares and no template of its chain prints. */
export const regionUnprinted: Rule = {
  meta: {
    id: 'region/unprinted',
    severity: 'warning',
    tag: 'unused',
    isSeen: true,
    summary: 'A region is declared and never printed',
    why: 'A site’s owner puts content into the region, and it never shows.',
    messages: { unprinted: 'the region “{name}” is declared, and no template prints it' },
    example: {
      platform: 'cordada',
      wrong: {
        'cierzo.cordada.yaml':
          'title: Cierzo\nis: theme\nhosts: ">=4"\nbase: none\nload: [base]\nareas:\n  header: Header\n  content: Content\n  aside: Beside it\n',
      },
      right: {
        'cierzo.cordada.yaml':
          'title: Cierzo\nis: theme\nhosts: ">=4"\nbase: none\nload: [base]\nareas:\n  header: Header\n  content: Content\n',
      },
    },
  },
  *check({ theme, chain }) {
    const declared = declaredRegions(chain);
    if (declared?.theme !== theme || chain.broken !== undefined) return;
    const printed = new Set(printedRegions(chain).map((region) => region.name));
    const seen = new Set<string>();
    for (const { name, fact, start, end } of declared.regions) {
      if (printed.has(name) || seen.has(name)) continue;
      seen.add(name);
      const shape = theme.platform.contract.regions?.printed.replace('{name}', name) ?? name;
      yield {
        message: 'unprinted',
        args: { name },
        file: fact.document.path,
        source: fact.document.source,
        range: { start, end },
        hint: advise('print-or-take-out', { shape }),
      };
    }
  },
};
