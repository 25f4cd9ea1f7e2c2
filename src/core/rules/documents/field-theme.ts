import { entriesOf, keyPath } from '../../theme/documents.ts';
import { nearest } from '../../text/nearest.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Fields that name a theme, this one or another, which is nowhere. */
export const fieldTheme: Rule = {
  meta: {
    id: 'field/theme',
    severity: 'warning',
    summary: 'A document names a theme that is nowhere',
    why: 'The host looks for the theme, finds none of that name, and takes its own, or nothing.',
    messages: { unknown: '“{key}” names the theme “{found}”, which is on no shelf' },
    example: { none: 'none of the shipped hosts has a field that may name any theme' },
  },
  *check({ theme, shelves }) {
    const { 'built-in': brought } = theme.platform.contract.inheritance;
    for (const fact of theme.facts) {
      const { field, document } = fact;
      if (field.type !== 'theme' && field.of !== 'theme') continue;
      for (const { text: found, ...range } of entriesOf(fact)) {
        const isKnown = found === '' || found === field.none || found === theme.names.id || brought.includes(found);
        if (isKnown || shelves.find(found) !== undefined) continue;
        const near = nearest(found, [theme.names.id, ...brought, ...shelves.list().map(({ names }) => names.id)]);
        yield {
          message: 'unknown',
          args: { key: keyPath(field).join('.'), found },
          file: document.path,
          source: document.source,
          range,
          hint: near === undefined ? undefined : advise('did-you-mean', { near }),
        };
      }
    }
  },
};
