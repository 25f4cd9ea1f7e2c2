import { NameGuesser } from '../../text/nearest.ts';
import { templatesByKindOfName, withIncluded, type PlacedTemplate } from '../../contents/templates.ts';
import { hostNames, namesUsed, type NameUse } from '../../templates/names-used.ts';
import type { NamesContract } from '../../platform/schema.ts';
import type { Chain } from '../../theme/chain.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'put-into-block': 'put it into one that {into} has, or take it out',
});

/** Blocks for which the template that they are laid into has no place. */
export const templatePlace: Rule = {
  meta: {
    id: 'template/place',
    severity: 'warning',
    isSeen: true,
    summary: 'A block has no place in the template that it is laid into',
    why: 'What fills a place that nothing has is never shown, and no host says so.',
    messages: { placeless: 'the {kind} “{name}” has no place in {into}: what is in it is never shown' },
    example: {
      platform: 'sphinx',
      wrong: { 'layout.html': '{%- extends "basic/layout.html" %}\n{%- block foter %}<p></p>{% endblock %}\n' },
      right: { 'layout.html': '{%- extends "basic/layout.html" %}\n{%- block footer %}<p></p>{% endblock %}\n' },
    },
  },
  *check({ theme, chain }) {
    if (chain.broken !== undefined) return;
    for (const { kind, templates } of templatesByKindOfName(theme).filter((each) => each.kind.inherited)) {
      const isHost = hostNames(kind);
      const guesser = new NameGuesser(kind.known);
      for (const placed of templates) {
        const [base] = placed.template.extends;
        if (base === undefined) continue;
        let places: ReadonlySet<string> | undefined;
        for (const { name, start, end } of outermost(placed, namesUsed(placed.source.text, placed.template, kind))) {
          if (isHost(name) || (places ??= placesOf(chain, placed, kind)).has(name)) continue;
          const near = guesser.nearest(name);
          const hint = near === undefined ? advise('put-into-block', { into: base.name }) : advise('did-you-mean', { near });
          const args = { name, kind: kind.called, into: base.name };
          yield { message: 'placeless', args, file: placed.path, source: placed.source, range: { start, end }, hint };
        }
      }
    }
  },
};

/** Those that lie within no other one, with which they would be shown. @param uses in the order of the text */
function outermost({ template: { sections } }: PlacedTemplate, uses: readonly NameUse[]): NameUse[] {
  let before = 0;
  let reach = 0;
  return uses.filter(({ start }) => {
    for (let next = sections[before]; next !== undefined && next.end < start; next = sections[++before])
      reach = Math.max(reach, next.until);
    return start >= reach;
  });
}

/** The names for which the templates have a place that this one is laid into. */
function placesOf(chain: Chain, { path, source }: PlacedTemplate, kind: NamesContract): Set<string> {
  const below = withIncluded(chain, path).filter((each) => each.source !== source);
  return new Set(below.flatMap((each) => namesUsed(each.source.text, each.template, kind).map(({ name }) => name)));
}
