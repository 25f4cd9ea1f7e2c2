import { keyPath } from '../../theme/documents.ts';
import { setField } from '../../theme/write-field.ts';
import { fillShape } from '../../names/shape.ts';
import type { Rule } from '../rule.ts';

/** A document states another id or vendor than the theme's place on the shelf. */
export const idAgrees: Rule = {
  meta: {
    id: 'id/agrees',
    severity: 'error',
    summary: 'A document states another id than the theme’s folder',
    why: 'The host finds a theme under one name and reads another: it never shows up, and nothing says why.',
    messages: { differs: '“{key}” says the {fact} is “{found}”, but the folder says “{wanted}”' },
  },
  *check({ theme }) {
    for (const { name, value, document, field, node } of theme.facts) {
      const wanted = name === 'id' ? theme.names.id : name === 'vendor' ? theme.names.vendor : undefined;
      if (wanted === undefined || typeof value !== 'string' || value === wanted) continue;
      const text = field.shape === undefined ? wanted : fillShape(field.shape, theme.names);
      yield {
        message: 'differs',
        args: { key: keyPath(field).join('.'), fact: name, found: value, wanted },
        file: document.path,
        source: document.source,
        range: node,
        hint: `write ${text}, or rename the folder`,
        fix: { title: `write ${text}`, isSafe: false, file: document.path, edits: setField(document, keyPath(field), text) },
        isRefusal: true,
      };
    }
  },
};
