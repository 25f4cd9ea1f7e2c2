import { findSyntax } from '../documents/syntaxes.ts';
import type { WritableValue, WriteContext } from '../documents/syntax.ts';
import type { TextEdit } from '../text/edits.ts';
import { keyPath, type ThemeDocument } from './documents.ts';

/** What writers need to know of a document: its syntax's options and the wanted order of its fields. */
export function writeContext(document: ThemeDocument): WriteContext {
  return { options: document.contract.options, order: document.contract.fields.map(keyPath) };
}

/** Edits that give a field of a document a value; none when the document could not be read. */
export function setField(document: ThemeDocument, path: readonly string[], value: WritableValue): TextEdit[] {
  if (document.source === undefined || document.root === undefined) return [];
  const separator = document.contract.fields.find((field) => keyPath(field).join('\0') === path.join('\0'))?.separator;
  const written = separator === undefined || !Array.isArray(value) ? value : value.join(separator);
  return findSyntax(document.contract.syntax)?.set(document.source.text, path, written, writeContext(document)) ?? [];
}

/** Edits that give an entry of a document another key. */
export function renameField(document: ThemeDocument, path: readonly string[], key: string): TextEdit[] {
  if (document.source === undefined || document.root === undefined) return [];
  return findSyntax(document.contract.syntax)?.renameKey(document.source.text, path, key, writeContext(document)) ?? [];
}

/** Edits that take a field out of a document. */
export function removeField(document: ThemeDocument, path: readonly string[]): TextEdit[] {
  if (document.source === undefined || document.root === undefined) return [];
  return findSyntax(document.contract.syntax)?.remove(document.source.text, path, writeContext(document)) ?? [];
}
