import { NameGuesser } from '../../text/nearest.ts';
import { declaredRegions, printedRegions } from '../../contents/regions.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';
import { listed } from '../../text/sentence.ts';

const advise = advices({
  declare: 'declare it; there are {known}',
});

/** Regions that a template prints and nobody declares. */
export const regionUndeclared: Rule = {
  meta: {
    id: 'region/undeclared',
    severity: 'error',
    isSeen: true,
    summary: 'A region is printed and never declared',
    why: 'The host offers no such region, so nothing can be put into it: the place stays empty.',
    messages: { undeclared: 'the region “{name}” is printed, but {where} does not declare it' },
    example: {
      platform: 'cordada',
      wrong: { 'markup/page.html': '{{{areas.header}}}{{{areas.content}}}{{{areas.contnt}}}\n' },
      right: { 'markup/page.html': '{{{areas.header}}}{{{areas.content}}}\n' },
    },
  },
  *check({ theme, chain }) {
    const { regions } = theme.platform.contract;
    if (regions === undefined || chain.broken !== undefined) return;
    const declared = declaredRegions(chain);
    const names = declared?.regions.map((region) => region.name) ?? regions.defaults;
    const known = new Set(names);
    const guesser = new NameGuesser(known);
    const some = listed(names, 8);
    for (const printed of printedRegions(chain)) {
      if (printed.theme !== theme || known.has(printed.name)) continue;
      const near = guesser.nearest(printed.name);
      const where = declared === undefined ? 'the host' : (declared.regions[0]?.fact.document.path ?? 'the theme');
      yield {
        message: 'undeclared',
        args: { name: printed.name, where },
        file: printed.source.file,
        source: printed.source,
        range: { start: printed.start, end: printed.end },
        hint: near === undefined ? advise('declare', { known: some }) : advise('did-you-mean', { near }),
      };
    }
  },
};
