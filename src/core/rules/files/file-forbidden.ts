import { matchesGlob } from '../../files/glob.ts';
import { isInSpan } from '../../platform/platform.ts';
import { fillShape } from '../../names/shape.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Files that the platform does not want in a theme. */
export const fileForbidden: Rule = {
  meta: {
    id: 'file/forbidden',
    severity: 'error',
    summary: 'A file that a theme must not have',
    why: 'Hosts refuse a theme that holds what they forbid, or run what should never run.',
    messages: { forbidden: '{path} must not be in a theme: {why}' },
    example: { platform: 'bloque', wrong: { 'hooks.php': '<?php\n' }, right: {} },
  },
  *check({ theme, releases }) {
    for (const rule of theme.platform.contract.files) {
      if (!rule.forbidden || !isInSpan(rule, releases)) continue;
      const glob = fillShape(rule.path, theme.names);
      for (const entry of theme.tree.entries) {
        if (entry.kind === 'folder' || !matchesGlob(entry.path, glob)) continue;
        yield {
          message: 'forbidden',
          args: { path: entry.path, why: rule.without ?? 'the host refuses it' },
          file: entry.path,
          hint: advise('take-out'),
          isRefusal: true,
        };
      }
    }
  },
};
