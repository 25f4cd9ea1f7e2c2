import type { TextRange } from '../../text/edits.ts';
import { findDeclarations } from '../../theme/identifiers.ts';
import type { Rule } from '../rule.ts';

/** Functions and the like whose names lack the theme's id where the platform wants it. */
export const identifierPrefix: Rule = {
  meta: {
    id: 'identifier/prefix',
    severity: 'error',
    summary: 'A declared name does not carry the theme’s id',
    why: 'All themes and extensions of a host share one space of names: two that declare the same one stop the site.',
    messages: { prefix: '“{name}” does not carry the theme’s id; names here look like {wanted}' },
    example: {
      platform: 'vereda',
      wrong: { 'hooks.php': '<?php\nfunction setup_menus() {\n}\n' },
      right: { 'hooks.php': '<?php\nclass Menus {\n  function setup() {}\n}\n' },
    },
  },
  *check({ theme }) {
    for (const declaration of findDeclarations(theme)) {
      if (declaration.fits) continue;
      const range: TextRange = declaration;
      yield {
        message: 'prefix',
        args: { name: declaration.name, wanted: declaration.wanted },
        file: declaration.file,
        source: declaration.source,
        range,
        hint: `rename it to ${declaration.wanted.replace('…', declaration.name)}, with its calls`,
      };
    }
  },
};
