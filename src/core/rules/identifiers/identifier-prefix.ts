import { isFilledBy, wholePattern } from '../../names/shape.ts';
import { ownNameOf } from '../../contents/own-name.ts';
import { isThirdPartyFile } from '../../contents/third-party.ts';
import { findDeclarations, type Declaration } from '../../contents/identifiers.ts';
import type { Shelves } from '../../theme/shelf.ts';
import type { Theme } from '../../theme/theme.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';
import { weigh } from '../../names/weight.ts';
import type { ThemeNames } from '../../names/full-name.ts';

const advise = advices({
  'rename-with-calls': 'rename it to {to}, with its calls',
});

/** Functions and the like whose names lack the theme's id where the platform wants it. */
export const identifierPrefix: Rule = {
  meta: {
    id: 'identifier/prefix',
    severity: 'error',
    summary: 'A declared name does not carry the theme’s id',
    why: 'All themes and extensions of a host share one space of names: two that declare the same one stop the site.',
    messages: {
      prefix: '“{name}” does not carry the theme’s id; names here look like {wanted}',
      other: '“{name}” carries the name of the theme “{other}”; names here look like {wanted}',
    },
    example: {
      platform: 'vereda',
      wrong: { 'hooks.php': '<?php\nfunction setup_menus() {\n}\n' },
      right: { 'hooks.php': '<?php\nclass Menus {\n  function setup() {}\n}\n' },
    },
  },
  *check({ theme, shelves, releases, once }) {
    for (const declaration of findDeclarations(theme, releases)) {
      const { name, wanted, file, source, start, end } = declaration;
      // Names of a library are its own, and nobody can change them without changing what uses it.
      if (declaration.fits || isThirdPartyFile(theme, file)) continue;
      const other = ownOf(declaration, once(ownNameOf)?.id) ?? ownerOf(declaration, theme, shelves);
      yield {
        message: other === undefined ? 'prefix' : 'other',
        args: { name, wanted, other: other?.id },
        file,
        source,
        range: { start, end },
        carries: other?.id,
        hint: advise('rename-with-calls', { to: wanted.replaceAll('…', other?.rest ?? name) }),
      };
    }
  },
};

/** The part of a declared name besides the names of a theme, in the first of the shapes that it fits. */
function restOf({ name, shapes }: Declaration, names: ThemeNames): string | undefined {
  for (const shape of shapes) {
    const match = isFilledBy(shape, names) ? wholePattern(shape, names).exec(name) : null;
    if (match !== null) return match.groups?.['name'] ?? match.groups?.['path'] ?? '';
  }
  return undefined;
}

/** The same for the name that the theme calls itself by, in a folder of another name. */
function ownOf(declaration: Declaration, id: string | undefined): { id: string; rest: string } | undefined {
  const rest = id === undefined ? undefined : restOf(declaration, { id });
  return rest === undefined || id === undefined ? undefined : { id, rest };
}

/** The other theme on the shelf whose name a declared name carries, and what the name is besides. */
function ownerOf(declaration: Declaration, theme: Theme, shelves: Shelves): { id: string; rest: string } | undefined {
  for (const shelved of shelves.list()) {
    const { id } = shelved.names;
    // A common word at the beginning of a name is not a sign of a theme that is called so.
    if (id === theme.names.id || weigh(id) !== 'distinctive') continue;
    // Only a theme that is opened tells its title.
    const isKnown = declaration.shapes.every((shape) => isFilledBy(shape, shelved.names));
    const rest = restOf(declaration, isKnown ? shelved.names : shelves.open(shelved).names);
    if (rest !== undefined) return { id, rest };
  }
  return undefined;
}
