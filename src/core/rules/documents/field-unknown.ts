import { isNeeded } from '../../platform/platform.ts';
import { nearest } from '../../text/nearest.ts';
import { isSound, keyPath } from '../../theme/documents.ts';
import { renameField } from '../../theme/write-field.ts';
import type { Rule } from '../rule.ts';

/** Fields that the platform does not know. */
export const fieldUnknown: Rule = {
  meta: {
    id: 'field/unknown',
    severity: 'warning',
    summary: 'A field that the host does not know',
    why: 'Hosts ignore fields that they do not know: a misspelt one has no effect, and nothing says so.',
    messages: { near: '“{key}” is not a field of {title}; “{near}” is', unknown: '“{key}” is not a field of {title}' },
    example: {
      platform: 'vereda',
      wrong: { 'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\nlicence: MIT\n---*/\n' },
      right: { 'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\nlicense: MIT\n---*/\n' },
    },
  },
  *check({ theme }) {
    for (const document of theme.documents) {
      if (!isSound(document) || document.root === undefined || document.contract['other-fields'] === 'allowed') continue;
      const known = document.contract.fields.map((field) => keyPath(field)[0] ?? '');
      const present = new Set(document.root.entries.map((entry) => entry.key));
      for (const entry of document.root.entries) {
        if (known.includes(entry.key)) continue;
        const near = nearest(entry.key, known);
        const canRename = near !== undefined && !present.has(near);
        yield {
          message: near === undefined ? 'unknown' : 'near',
          args: { key: entry.key, near: near ?? '', title: document.title },
          file: document.path,
          source: document.source,
          isRefusal:
            canRename && document.contract.fields.some((field) => keyPath(field)[0] === near && isNeeded(field.required, theme.isChild)),
          range: { start: entry.keyStart, end: entry.keyEnd },
          hint:
            near === undefined
              ? `known fields: ${known.join(', ')}`
              : canRename
                ? `rename it to “${near}”`
                : `“${near}” is there already: remove one`,
          fix: canRename
            ? {
                title: `rename “${entry.key}” to “${near}”`,
                isSafe: true,
                file: document.path,
                edits: renameField(document, [entry.key], near),
              }
            : undefined,
        };
      }
    }
  },
};
