import { findDeclarations } from '../../theme/identifiers.ts';
import type { Rule } from '../rule.ts';

/** Names that must be unique among all themes of a host, and that a sibling on the shelf declares too. */
export const identifierUnique: Rule = {
  meta: {
    id: 'identifier/unique',
    severity: 'error',
    summary: 'Another theme on the shelf declares the same name',
    why: 'With both themes installed the host stops at the second declaration.',
    messages: { twice: '“{name}” is declared by the theme “{other}” too ({file})' },
  },
  *check({ theme, shelves }) {
    const own = [...findDeclarations(theme)].filter((declaration) => declaration.isUnique);
    if (own.length === 0) return;
    for (const shelved of shelves.list()) {
      if (shelved.names.id === theme.names.id && shelved.names.vendor === theme.names.vendor) continue;
      const theirs = new Map([...findDeclarations(shelves.open(shelved))].map((declaration) => [declaration.name, declaration]));
      for (const { name, file, source, start, end, fits } of own) {
        const twin = theirs.get(name);
        // A name that carries this theme's id is this theme's: the finding belongs to the other one.
        if (twin === undefined || (fits && !twin.fits)) continue;
        yield {
          message: 'twice',
          args: { name, other: shelved.names.id, file: twin.file },
          file,
          source,
          range: { start, end },
          hint: 'rename it here, with its calls',
        };
      }
    }
  },
};
