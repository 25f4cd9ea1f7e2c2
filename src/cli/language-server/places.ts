import { fileURLToPath, pathToFileURL } from 'node:url';
import { join } from 'node:path';
import type { Location, Range } from 'vscode-languageserver/node';
import type { TextDocument } from 'vscode-languageserver-textdocument';
import type { Finding } from '../../core/rules/engine/check.ts';
import type { SourceDocument } from '../../core/text/source-document.ts';
import type { TextRange } from '../../core/text/edits.ts';
import type { Theme } from '../../core/theme/theme.ts';
import { isOneFile } from '../../core/theme/place.ts';

// Editors count lines and UTF-16 code units from 0 (Language Server Protocol 3.17, “Position”); the core counts offsets, and lines from 1.

export function rangeOf(source: SourceDocument | undefined, { start, end }: TextRange): Range {
  const at = (offset: number) => {
    const { line, column } = source?.positionAt(offset) ?? { line: 1, column: 1 };
    return { line: line - 1, character: column - 1 };
  };
  return { start: at(start), end: at(end) };
}

/** The same in a text that is open and belongs to no theme. */
export function rangeIn(document: TextDocument, { start, end }: TextRange): Range {
  return { start: document.positionAt(start), end: document.positionAt(end) };
}

/** The place of a finding: what it marks, else the beginning of its line. */
export function rangeOfFinding({ line, column, length }: Pick<Finding, 'line' | 'column' | 'length'>): Range {
  const start = { line: line - 1, character: column - 1 };
  return { start, end: { line: start.line, character: start.character + Math.max(length, 1) } };
}

export const NOWHERE: Range = { start: { line: 0, character: 0 }, end: { line: 0, character: 0 } };

export function pathOf(uri: string): string | undefined {
  return uri.startsWith('file:') ? fileURLToPath(uri) : undefined;
}

export function uriOf(path: string): string {
  return pathToFileURL(path).href;
}

/** Where a file of a theme lies on disk; undefined for a theme that lies on none. */
export function placeOf({ platform, place }: Theme, path: string): string | undefined {
  return place === undefined || isOneFile(platform) ? place : join(place, path);
}

export function locationOf(theme: Theme, path: string, range: Range = NOWHERE): Location[] {
  const place = placeOf(theme, path);
  return place === undefined ? [] : [{ uri: uriOf(place), range }];
}
