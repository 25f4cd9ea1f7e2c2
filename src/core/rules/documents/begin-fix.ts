import { beginDocument } from '../../facts/begin-document.ts';
import { keyPath, type ThemeDocument } from '../../theme/documents.ts';
import type { Theme } from '../../theme/theme.ts';
import { advise, type Advice } from '../advice.ts';
import type { Fix } from '../rule.ts';

/** What to do about a document that is not there, and the fix that begins it where all that it must say can be proposed. */
export function beginFix(theme: Theme, document: ThemeDocument): { readonly hint: Advice; readonly fix?: Fix | undefined } | undefined {
  const begun = beginDocument(theme, document);
  if (begun === undefined) return undefined;
  const { title } = document;
  const named = (fields: typeof begun.fields): string => fields.map((field) => keyPath(field).join('.')).join(', ');
  if (begun.lacking.length > 0) return { hint: advise('begin-lacking', { title, fields: named(begun.lacking) }) };
  const hint = advise('begin-document', { title, fields: named(begun.fields) || 'nothing in it' });
  return { hint, fix: { title: hint, isSafe: begun.isSure, file: document.path, edits: begun.edits } };
}
