import type { Shelves } from '../../theme/shelf.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';
import type { Theme } from '../../theme/theme.ts';
import { relatedFact } from '../related.ts';

const advise = advices({
  'other-title': 'give one of them another title',
});

/** Two themes of one title: the kit's, or that of the theme that a copy was made of. */
export const titleUnique: Rule = {
  meta: {
    id: 'title/unique',
    severity: 'warning',
    summary: 'Another theme on the shelf has the same title',
    why: 'People choose a theme by its title: of two that are called the same they cannot tell which is which.',
    messages: { twice: '“{title}” is the title of the theme “{other}” too', 'twice-there': 'the title of “{other}”' },
    example: {
      platform: 'vereda',
      siblings: { lumbre: { 'sheet.css': '/*---\ntitle: The hut\nversion: 1.0.0\nhosts: ">=2"\n---*/\n' } },
      wrong: { 'sheet.css': '/*---\ntitle: The hut\nversion: 1.0.0\nhosts: ">=2"\n---*/\n' },
      right: { 'sheet.css': '/*---\ntitle: The hut of Cierzo\nversion: 1.0.0\nhosts: ">=2"\n---*/\n' },
    },
  },
  *check({ theme, shelves }) {
    const fact = theme.fact('title');
    if (fact === undefined || typeof fact.value !== 'string' || fact.value === '' || shelves.isAlone(theme.names)) return;
    const twin = shelves
      .once(titlesOn)
      .get(fact.value)
      ?.find(({ names }) => names.id !== theme.names.id);
    if (twin === undefined) return;
    const { document, node } = fact;
    yield {
      message: 'twice',
      args: { title: fact.value, other: twin.names.id },
      file: document.path,
      source: document.source,
      range: node,
      related: relatedFact(twin, twin.fact('title'), 'twice-there', { other: twin.names.id }),
      hint: advise('other-title'),
    };
  },
};

/** The themes on the shelves, by title. */
function titlesOn(shelves: Shelves): ReadonlyMap<string, readonly Theme[]> {
  const titles = new Map<string, Theme[]>();
  for (const shelved of shelves.list()) {
    const theme = shelves.open(shelved);
    const { title } = theme.names;
    if (title !== undefined) titles.set(title, [...(titles.get(title) ?? []), theme]);
  }
  return titles;
}
