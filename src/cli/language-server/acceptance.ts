import type { WorkspaceEdit } from 'vscode-languageserver/node';
import { isTemplate } from '../../core/contents/templates.ts';
import type { EditedFile } from '../../core/editor/editor-workspace.ts';
import type { Finding } from '../../core/rules/engine/check.ts';
import { placeOf, uriOf } from './places.ts';

/** How comments are written, by the endings of files. */
const COMMENTS: readonly (readonly [endings: RegExp, before: string, after: string])[] = [
  [/\.(?:css|less|scss|js|mjs|cjs|ts|php)$/i, '/* ', ' */'],
  [/\.(?:html?|xhtml|xml|svg)$/i, '<!-- ', ' -->'],
  [/\.(?:ya?ml|toml|conf|cfg|ini|po|theme|desktop|properties)$/i, '# ', ''],
];

/**
 * Puts a comment above the line of a finding, which accepts it once its writer has said why: without a reason that is a finding itself.
 * Undefined where the file can hold none.
 */
export function acceptanceEdit({ theme, path }: EditedFile, { rule, line, file }: Finding): WorkspaceEdit | undefined {
  const place = placeOf(theme, path);
  const own = COMMENTS.find(([endings]) => endings.test(path)) ?? (isTemplate(theme, path) ? COMMENTS[1] : undefined);
  if (place === undefined || own === undefined || file !== path) return undefined;
  const [, before, after] = own;
  const indent = /^\s*/.exec(theme.source(path)?.lineAt(line) ?? '')?.[0] ?? '';
  const start = { line: line - 1, character: 0 };
  const newText = `${indent}${before}pionero-accept ${rule}:${after === '' ? ' ' : after}\n`;
  return { documentChanges: [{ textDocument: { uri: uriOf(place), version: null }, edits: [{ range: { start, end: start }, newText }] }] };
}
