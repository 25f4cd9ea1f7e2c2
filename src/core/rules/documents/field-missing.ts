import { findEntry } from '../../documents/syntax.ts';
import { isInSpan, isNeeded } from '../../platform/platform.ts';
import type { FieldContract } from '../../platform/schema.ts';
import { isSound, keyPath, type ThemeDocument } from '../../theme/documents.ts';
import { proposedValue, writable } from '../../facts/begin-document.ts';
import type { Theme } from '../../theme/theme.ts';
import { setField } from '../../facts/write-field.ts';
import { advices } from '../advice.ts';
import { type Fix, type Rule, fixOf } from '../rule.ts';
import { misspeltKeys } from './misspelt-keys.ts';

/** A fix that adds a field with what it can say; sure where it can say nothing else. */
function addField(theme: Theme, document: ThemeDocument, field: FieldContract): Fix | undefined {
  const proposed = proposedValue(theme, field);
  if (proposed === undefined) return undefined;
  const { value, isSure } = proposed;
  const key = keyPath(field);
  return fixOf(advise('add-field', { key: key.join('.'), value }), isSure, document.path, setField(document, key, writable(value, field)));
}

const advise = advices({
  'add-field-about': 'add “{key}: …”: {about}',
});

/** Fields that the platform requires and a document does not have, or has without a value. */
export const fieldMissing: Rule = {
  meta: {
    id: 'field/missing',
    severity: 'error',
    isOfOneFile: true,
    summary: 'A field that the host needs is missing or empty',
    why: 'Without its required fields a theme is not listed, or is listed without a name or version.',
    messages: { missing: '{title} has no “{key}”', empty: '“{key}” in {title} is empty' },
    example: {
      platform: 'vereda',
      wrong: { 'sheet.css': '/*---\ntitle: Cierzo\nhosts: ">=2"\n---*/\n' },
      right: { 'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\n---*/\n' },
    },
  },
  *check({ theme, releases }) {
    for (const document of theme.documents) {
      if (!isSound(document) || document.root === undefined) continue;
      const misspelt = misspeltKeys(document);
      for (const field of document.contract.fields) {
        if (!isNeeded(field.required, theme.isChild) || !isInSpan(field, releases)) continue;
        const path = keyPath(field);
        const entry = findEntry(document.root, path);
        const isEmpty = entry?.value.kind === 'scalar' && (entry.value.value === null || entry.value.value === '');
        if (entry !== undefined && !isEmpty) continue;
        // A misspelled key is one mistake, and has a finding of its own.
        if (misspelt.some(({ meant }) => meant.every((key, i) => key === path[i]))) continue;
        yield {
          message: entry === undefined ? 'missing' : 'empty',
          args: { title: document.title, key: path.join('.') },
          file: document.path,
          source: document.source,
          range:
            entry === undefined ? { start: document.root.start, end: document.root.start } : { start: entry.keyStart, end: entry.keyEnd },
          hint:
            field.about === undefined
              ? advise('add-field', { key: path.join('.'), value: '…' })
              : advise('add-field-about', { key: path.join('.'), about: field.about }),
          isRefusal: true,
          fix: addField(theme, document, field),
        };
      }
    }
  },
};
