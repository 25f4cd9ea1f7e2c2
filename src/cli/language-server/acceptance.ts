import type { WorkspaceEdit } from 'vscode-languageserver/node';
import { isTemplate } from '../../core/contents/templates.ts';
import type { EditedFile } from '../../core/editor/editor-workspace.ts';
import type { Finding } from '../../core/rules/engine/check.ts';
import { languageNamed } from '../../core/text/languages.ts';
import type { Zone } from '../../core/text/zone.ts';
import { findZones, zoneOf } from '../../core/text/zones.ts';
import { placeOf, uriOf } from './places.ts';

/**
 * Puts a comment above the line of a finding, which accepts it once its writer has said why: without a reason that is a finding itself.
 * Undefined where no comment can stand: in another comment, in a string, within a tag, in a language without comments.
 */
export function acceptanceEdit({ theme, path }: EditedFile, { rule, line, file }: Finding): WorkspaceEdit | undefined {
  const place = placeOf(theme, path);
  const source = theme.source(path);
  if (place === undefined || source === undefined || file !== path) return undefined;
  const offset = source.text.split('\n', line - 1).join('\n').length + (line > 1 ? 1 : 0);
  const zone = zoneOf(findZones(path, source.text, isTemplate(theme, path)), offset);
  const comment = zone === undefined ? undefined : commentAt(zone, source.text, offset);
  if (comment === undefined) return undefined;
  const indent = /^[ \t]*/.exec(source.lineAt(line))?.[0] ?? '';
  const start = { line: line - 1, character: 0 };
  const newText = `${indent}${comment(`pionero-accept ${rule}:`)}\n`;
  return { documentChanges: [{ textDocument: { uri: uriOf(place), version: null }, edits: [{ range: { start, end: start }, newText }] }] };
}

/** A text as a comment of the language that stands at an offset; undefined where none can begin. */
function commentAt({ kind, language: name, start }: Zone, text: string, offset: number): ((text: string) => string) | undefined {
  const isWithin = (kind === 'comment' || kind === 'string') && start < offset;
  if (name === undefined || isWithin) return undefined;
  const { block, line } = languageNamed(name);
  // Tags can go over several lines.
  if (kind === 'markup' && text.lastIndexOf('<', offset - 1) > text.lastIndexOf('>', offset - 1)) return undefined;
  const pair = block.find(([open]) => !open.startsWith('\n'));
  if (pair !== undefined) return (said) => `${pair[0]} ${said} ${pair[1]}`;
  const [sign] = line;
  return sign === undefined ? undefined : (said) => `${sign} ${said} `;
}
