import { findDeclarations, uniqueNamesOn, type SharedName } from '../../contents/identifiers.ts';
import { advices } from '../advice.ts';
import type { RelatedPlace, Rule } from '../rule.ts';
import { isSameName } from '../../names/full-name.ts';

const advise = advices({
  'rename-here': 'rename it here, with its calls',
});

/** Names that must be unique among all themes of a host, and that a sibling on the shelf declares too. */
export const identifierUnique: Rule = {
  meta: {
    id: 'identifier/unique',
    severity: 'error',
    summary: 'Another theme on the shelf declares the same name',
    why: 'With both themes installed the host stops at the second declaration.',
    messages: { twice: '“{name}” is declared by the theme “{other}” too ({file})', 'twice-there': 'declared in “{other}” too' },
    example: { none: 'it needs two themes whose ids lead to the same names' },
  },
  *check({ theme, shelves, releases }) {
    const own = [...findDeclarations(theme, releases)].filter((declaration) => declaration.isUnique);
    if (own.length === 0 || shelves.isAlone(theme.names)) return;
    const all = shelves.once(uniqueNamesOn);
    for (const { name, file, source, start, end, fits } of own) {
      // A name that carries this theme's id is this theme's: the finding belongs to the other one.
      const twin = all.get(name)?.find((each) => !isSameName(each.theme.names, theme.names) && (!fits || each.fits));
      if (twin === undefined) continue;
      const other = twin.theme.names.id;
      yield {
        message: 'twice',
        args: { name, other, file: twin.file },
        file,
        source,
        range: { start, end },
        carries: fits ? undefined : other,
        related: [twinPlace(twin)],
        hint: advise('rename-here'),
      };
    }
  },
};

function twinPlace({ theme, file, start, end }: SharedName): RelatedPlace {
  return { message: 'twice-there', args: { other: theme.names.id }, theme, file, source: theme.source(file), range: { start, end } };
}
