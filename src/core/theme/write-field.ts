import { findSyntax } from '../documents/syntaxes.ts';
import type { WritableValue, WriteContext } from '../documents/syntax.ts';
import type { TextEdit } from '../text/edits.ts';
import { keyPath, type ThemeDocument } from './theme.ts';

/** What writers need to know of a document: its syntax's options and the wanted order of its fields. */
export function writeContext(document: ThemeDocument): WriteContext {
  return { options: document.contract.options, order: document.contract.fields.map(keyPath) };
}

/** Edits that give a field of a document a value; none when the document could not be read. */
export function setField(document: ThemeDocument, path: readonly string[], value: WritableValue): TextEdit[] {
  if (document.source === undefined || document.root === undefined) return [];
  return findSyntax(document.contract.syntax)?.set(document.source.text, path, value, writeContext(document)) ?? [];
}

/** Edits that give an entry of a document another key. */
export function renameField(document: ThemeDocument, path: readonly string[], key: string): TextEdit[] {
  if (document.source === undefined || document.root === undefined) return [];
  return findSyntax(document.contract.syntax)?.renameKey(document.source.text, path, key, writeContext(document)) ?? [];
}
