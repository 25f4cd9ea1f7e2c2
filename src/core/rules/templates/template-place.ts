import { nearest } from '../../text/nearest.ts';
import { templatesOf, withIncluded, type PlacedTemplate } from '../../contents/templates.ts';
import { describedNames, isHostName, namesUsed, type NameUse } from '../../templates/names-used.ts';
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
    for (const kind of describedNames(theme.platform).filter(({ inherited }) => inherited)) {
      for (const placed of templatesOf(theme)) {
        const [base] = placed.template.extends;
        if (base === undefined) continue;
        for (const use of namesUsed(placed.source.text, placed.template, kind)) {
          const { name, start, end } = use;
          if (isHostName(kind, name) || isNested(placed, use) || isPlaced(chain, placed, kind, name)) continue;
          const near = nearest(name, kind.known);
          const hint = near === undefined ? advise('put-into-block', { into: base.name }) : advise('did-you-mean', { near });
          const args = { name, kind: kind.called, into: base.name };
          yield { message: 'placeless', args, file: placed.path, source: placed.source, range: { start, end }, hint };
        }
      }
    }
  },
};

/** Whether it lies within another one, with which it is shown. */
function isNested({ template }: PlacedTemplate, use: NameUse): boolean {
  return template.sections.some(({ end, until }) => end < use.start && use.start < until);
}

/** Whether one of the templates that this one is laid into has the place. */
function isPlaced(chain: Chain, { path, source }: PlacedTemplate, kind: NamesContract, name: string): boolean {
  const below = withIncluded(chain, path).filter((each) => each.source !== source);
  return below.some((each) => namesUsed(each.source.text, each.template, kind).some((use) => use.name === name));
}
