import { parentWith, type Chain } from '../../theme/chain.ts';
import { compareRanges } from '../../text/edits.ts';
import { nearest } from '../../text/nearest.ts';
import { parentMentions, type ParentMention } from '../../contents/parent-mentions.ts';
import { templateTarget } from '../../contents/serving.ts';
import { NameGuesser } from '../../text/nearest.ts';
import { advices, adviseToTake } from '../advice.ts';
import type { Report, Rule } from '../rule.ts';
import { partialsOf, templatesOf } from '../../contents/templates.ts';

const advise = advices({
  'add-or-drop-line': 'add {what}, or take the line out',
  include: 'include “{name}”',
});

/** Templates that include a partial which no theme of the chain has. */
export const templatePartial: Rule = {
  meta: {
    id: 'template/partial',
    severity: 'error',
    isOfOneFile: true,
    isSeen: true,
    summary: 'A template includes a partial that does not exist',
    why: 'Depending on its release a host shows nothing in its place or stops the page.',
    messages: {
      missing: 'the partial “{name}” does not exist: there is no {path}{chain}',
      stranger: 'the theme “{id}” is named, which this one does not build on',
    },
    example: {
      platform: 'vereda',
      wrong: { 'pages/front.html': '{{> heder}}\n', 'partials/header.html': '<header></header>\n' },
      right: { 'pages/front.html': '{{> header}}\n', 'partials/header.html': '<header></header>\n' },
    },
  },
  *check({ theme, chain }) {
    // Where a parent is missing nobody can tell what it builds on.
    if (chain.broken !== undefined) return;
    for (const mention of parentMentions(theme)) if (isStranger(chain, mention.id)) yield strangerReport(mention, chain);
    if (theme.platform.contract.templates?.partials === undefined) return;
    const guesser = new NameGuesser(chain.themes.flatMap((each) => partialsOf(each).map(({ name }) => name)));
    for (const { path: file, source, template, contract } of templatesOf(theme)) {
      // A template may include one partial as often as it likes; the findings about one that is missing have a limit.
      const times = new Map<string, number>();
      const { includes, extends: into } = template;
      for (const { name, nameStart: start } of into.length === 0 ? includes : [...includes, ...into].sort(compareRanges)) {
        const before = times.get(name) ?? 0;
        times.set(name, before + 1);
        if (before >= MOST_OF_A_NAME) continue;
        const target = templateTarget(chain, contract, name, file);
        if (target === undefined || target.kind === 'found') continue;
        // A theme that is named and not built on has a finding already.
        if (target.kind === 'stranger') continue;
        const { path } = target;
        const holder = parentWith(chain, path);
        const near = holder === undefined ? guesser.nearest(name) : undefined;
        yield {
          message: 'missing',
          args: { name, path, chain: chain.themes.length > 1 ? ', here or in a parent' : '' },
          file,
          source,
          range: { start, end: start + name.length },
          hint:
            holder !== undefined
              ? adviseToTake(holder, path)
              : near === undefined
                ? advise('add-or-drop-line', { what: path })
                : advise('did-you-mean', { near }),
          fix:
            near === undefined
              ? undefined
              : { title: advise('include', { name: near }), isSafe: false, file, edits: [{ start, end: start + name.length, text: near }] },
        };
      }
    }
  },
};

/** Further mentions of one missing partial in a template say no more. */
const MOST_OF_A_NAME = 100;

/** Whether a name is neither that of a theme of the chain nor of one that every host brings. */
function isStranger({ themes }: Chain, id: string): boolean {
  const brought = themes[0]?.platform.contract.inheritance['built-in'] ?? [];
  return !brought.includes(id) && themes.every((theme) => theme.names.id !== id);
}

/** A theme that is not in the chain: nearly always a parent's name, misspelled or left behind. */
function strangerReport({ id, file, source, start, end }: ParentMention, chain: Chain): Report {
  const parents = chain.themes[0]?.parents ?? [];
  const known = [...parents, ...chain.themes.slice(1).map((theme) => theme.names.id)];
  const near = nearest(id, known) ?? (parents.length === 1 ? parents[0] : undefined);
  const range = { start, end };
  return {
    message: 'stranger',
    args: { id },
    file,
    source,
    range,
    hint: near === undefined ? advise('add-or-drop-line', { what: id }) : advise('did-you-mean', { near }),
    fix:
      near === undefined ? undefined : { title: advise('write', { value: near }), isSafe: false, file, edits: [{ ...range, text: near }] },
  };
}
