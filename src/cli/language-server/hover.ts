import type { Hover } from 'vscode-languageserver/node';
import type { TextDocument } from 'vscode-languageserver-textdocument';
import { ownDescription } from '../../core/editor/own-files.ts';
import { fieldsIn, spotsIn, type FieldSpot, type Spot } from '../../core/editor/spots.ts';
import type { EditedFile } from '../../core/editor/editor-workspace.ts';
import { keyPath } from '../../core/theme/documents.ts';
import type { TextRange } from '../../core/text/edits.ts';
import { rangeIn, rangeOf } from './places.ts';
import type { Session } from './session.ts';
import { listed } from '../../core/text/sentence.ts';

/** A text on a place in a file: on the thing that is named there, on the field around it, and why the findings there matter. */
export function hoverAt({ judge }: Session, file: EditedFile, offset: number): Hover | null {
  const isAt = ({ start, end }: TextRange): boolean => start <= offset && offset <= end;
  const source = file.theme.source(file.path);
  const spot = spotsIn(file).find(isAt);
  const field = fieldsIn(file).find(isAt);
  const { line, column } = source?.positionAt(offset) ?? { line: 0, column: 0 };
  const findings = judge
    .findingsIn(file)
    .filter((each) => each.line === line && each.column <= column && column <= each.column + each.length);
  const parts = [
    ...(spot === undefined ? [] : [spotText(file, spot)]),
    ...(field === undefined ? [] : [fieldText(field)]),
    ...findings.map(({ rule, why }) => `\`${rule}\`: ${why}`),
  ];
  if (parts.length === 0) return null;
  const range = spot ?? field ?? { start: offset, end: offset };
  return { contents: { kind: 'markdown', value: parts.join('\n\n') }, range: rangeOf(source, range) };
}

/** A text on a key of a file of Pionero's own. */
export function ownHover(document: TextDocument | undefined, file: string, text: string, offset: number): Hover | undefined {
  const found = document === undefined ? undefined : ownDescription(file, text, offset);
  if (document === undefined || found === undefined) return undefined;
  return { contents: { kind: 'markdown', value: `\`${found.key}\`: ${found.about}` }, range: rangeIn(document, found) };
}

function spotText({ theme, chain }: EditedFile, { target }: Spot): string {
  switch (target.kind) {
    case 'file': {
      const isOwn = target.theme === theme;
      const from = isOwn ? 'of this theme' : `of **${target.theme.names.id}** ${target.theme.text('version') ?? ''}`.trim();
      const shadowed = chain.themes.filter((each) => each !== target.theme && each.tree.get(target.path)?.kind === 'file');
      const over =
        isOwn && shadowed.length > 0
          ? `; it takes the place of the one of ${listed(
              shadowed.map(({ names }) => names.id),
              3,
            )}`
          : '';
      const inherited = isOwn || theme.tree.get(target.path) !== undefined ? '' : ', inherited';
      return `\`${target.path}\` ${from}${inherited}${over}`;
    }
    case 'theme': {
      const { names } = target.theme;
      const summary = target.theme.text('summary');
      return [
        `**${names.title ?? names.id}** ${target.theme.text('version') ?? ''}`.trim(),
        ...(summary === undefined ? [] : [summary]),
      ].join('\n\n');
    }
    case 'brought':
      return `\`${target.path}\` comes with the host, from its theme **${target.id}**`;
    case 'region':
      return `The region \`${target.name}\``;
  }
}

function fieldText({ field, document }: FieldSpot): string {
  const needs = { always: 'required', standalone: 'required in a theme without a parent', child: 'required in a child', no: '' }[
    field.required
  ];
  const kind = field.type === 'list' || field.type === 'map' ? `${field.type} of ${field.of ?? 'text'}` : field.type;
  const span = [
    ...(field.since === undefined ? [] : [`since release ${field.since}`]),
    ...(field.until === undefined ? [] : [`until release ${field.until}`]),
    ...(field['replaced-by'] === undefined ? [] : [`replaced by \`${field['replaced-by']}\``]),
  ];
  const facts = [kind, ...(needs === '' ? [] : [needs]), ...span, ...(field.default === undefined ? [] : [`default: ${field.default}`])];
  const values = field.values === undefined ? [] : [`Values: ${field.values.map((value) => `\`${value}\``).join(', ')}`];
  return [
    `\`${keyPath(field).join('.')}\` of ${document.title}: ${facts.join('; ')}`,
    ...(field.about === undefined ? [] : [field.about]),
    ...values,
  ].join('\n\n');
}
