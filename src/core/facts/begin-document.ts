import { findEntry, type WritableValue } from '../documents/syntax.ts';
import { findSyntax } from '../documents/syntaxes.ts';
import { fillShape } from '../names/shape.ts';
import { spell, splitWords } from '../names/spelling.ts';
import { isInSpan, isNeeded, releasesInRange } from '../platform/platform.ts';
import type { FieldContract } from '../platform/schema.ts';
import type { TextEdit } from '../text/edits.ts';
import { SourceDocument } from '../text/source-document.ts';
import { isOneOfMany, isSameField, isSound, keyPath, type ThemeDocument } from '../theme/documents.ts';
import type { Theme } from '../theme/theme.ts';
import { setField } from './write-field.ts';

/** A value for a field that a document must have, and whether there is no other. */
export interface ProposedValue {
  readonly value: string;
  readonly isSure: boolean;
}

/** The document of a theme that was not there, as it could begin. */
export interface BegunDocument {
  /** The text to put into the file; one edit, of an empty text where there is not a file. */
  readonly edits: readonly TextEdit[];
  readonly bytes: Buffer;
  /** The fields that it then has. */
  readonly fields: readonly FieldContract[];
  /** Needed, and nobody knows what to write. */
  readonly lacking: readonly FieldContract[];
  /** Whether every value is the only one possible. */
  readonly isSure: boolean;
}

/** Whether a document is missing and could be made: no file, or a file without it. A broken document is not missing. */
export function canBegin(theme: Theme, document: ThemeDocument): boolean {
  return !isOneOfMany(document) && beginning(theme, document) !== undefined;
}

/** The text of a document without fields, in the place of what is there now; undefined when that cannot be made. */
function beginning(theme: Theme, { contract, state, source, root, path }: ThemeDocument): SourceDocument | undefined {
  const isMissing = state === 'missing' && theme.tree.get(path) === undefined;
  if (!isMissing && (state !== 'read' || root !== undefined || source === undefined)) return undefined;
  const syntax = findSyntax(contract.syntax);
  const before = source ?? SourceDocument.decode(path, Buffer.alloc(0));
  if (syntax === undefined || before === undefined) return undefined;
  const skeleton = before.text.trim() === '' ? contract['begins-with'] : undefined;
  const edits =
    skeleton === undefined ? syntax.begin?.(before.text, contract.options, path) : [{ start: 0, end: before.text.length, text: skeleton }];
  if (edits === undefined) return undefined;
  const begun = before.withEdits(edits);
  const { root: after, problems } = syntax.read(begun.text, contract.options);
  return after === undefined || problems.length > 0 ? undefined : begun;
}

/**
 * Begins a document with every field that it must have, as far as their values are known or given.
 * @param given values by fact, as they are to be written
 * @returns undefined when it is there already, or its syntax has no beginning
 */
export function beginDocument(
  theme: Theme,
  document: ThemeDocument,
  given: Readonly<Record<string, WritableValue>> = {},
): BegunDocument | undefined {
  const begun = beginning(theme, document);
  if (begun === undefined) return undefined;
  const releases = releasesInRange(theme.platform, rangeOf(theme, document, given));
  let now = readAgain(document, begun);
  const fields: FieldContract[] = [];
  const lacking: FieldContract[] = [];
  let isSure = true;
  for (const field of document.contract.fields) {
    const wanted = given[field.fact];
    const isRequired = isNeeded(field.required, theme.isChild) && isInSpan(field, releases);
    const proposed = wanted === undefined && isRequired ? proposedValue(theme, field) : undefined;
    const value = wanted ?? (proposed === undefined ? undefined : writable(proposed.value, field));
    if (value === undefined) {
      // The beginning states this itself: nobody needs to supply it.
      if (isRequired && findEntry(now.root, keyPath(field)) === undefined) lacking.push(field);
      continue;
    }
    const edits = setField(now, keyPath(field), value);
    if (edits === undefined || now.source === undefined) return undefined;
    now = readAgain(document, now.source.withEdits(edits));
    if (!isSound(now)) return undefined;
    fields.push(field);
    isSure &&= proposed?.isSure !== false;
  }
  const text = now.source?.text ?? '';
  const bytes = begun.encode(text);
  const before = document.source?.text ?? '';
  return bytes === undefined ? undefined : { edits: [insertion(before, text)], bytes, fields, lacking, isSure };
}

/** The releases that the document says the theme is for, or will. */
function rangeOf(theme: Theme, { contract }: ThemeDocument, given: Readonly<Record<string, WritableValue>>): string | undefined {
  if (typeof given['hosts'] === 'string') return given['hosts'];
  const field = contract.fields.find(({ fact }) => fact === 'hosts');
  return theme.hosts ?? (field === undefined ? undefined : proposedValue(theme, field)?.value);
}

function readAgain(document: ThemeDocument, source: SourceDocument): ThemeDocument {
  const { contract } = document;
  const { root, problems } = findSyntax(contract.syntax)?.read(source.text, contract.options) ?? { root: undefined, problems: [] };
  return { ...document, state: 'read', source, root, problems };
}

/** A proposed value in the type that the field wants. */
export function writable(value: string, { type }: FieldContract): WritableValue {
  if (type === 'integer' && /^\d+$/.test(value)) return Number(value);
  return type === 'boolean' && /^(?:true|false)$/.test(value) ? value === 'true' : value;
}

/** The insertions that turn one text into another one. */
function insertion(before: string, after: string): TextEdit {
  let start = 0;
  const most = Math.min(before.length, after.length);
  while (start < most && before[start] === after[start]) start++;
  let same = 0;
  while (same < most - start && before.at(-1 - same) === after.at(-1 - same)) same++;
  return { start, end: before.length - same, text: after.slice(start, after.length - same) };
}

/** A value for a required field: from another document, from the names, or a likely beginning. */
export function proposedValue(theme: Theme, field: FieldContract): ProposedValue | undefined {
  const { names, platform } = theme;
  if (field.shape !== undefined) return { value: fillShape(field.shape, names), isSure: true };
  const [only, ...others] = field.values ?? [];
  if (only !== undefined && others.length === 0) return { value: only, isSure: true };
  const said = theme.facts.find((fact) => fact.name === field.fact && !isSameField(fact.field, field) && typeof fact.value === 'string');
  if (typeof said?.value === 'string' && said.value !== '') return { value: said.value, isSure: true };
  if (field.fact === 'id') return { value: names.id, isSure: true };
  if (field.fact === 'vendor' && names.vendor !== undefined) return { value: names.vendor, isSure: true };
  if (field.fact === 'title') return { value: spell(splitWords(names.id), 'title'), isSure: false };
  if (field.fact === 'version' && field.type === 'version') return { value: '1.0.0', isSure: false };
  if (field.fact === 'hosts') {
    const release = platform.contract.releases.at(-1) ?? '';
    if (field.type === 'range') return { value: `>=${release}`, isSure: false };
    if (field.type === 'release') return { value: release, isSure: false };
  }
  if (field.type === 'integer') return { value: '1', isSure: false };
  // A theme that names no parent stands alone, as far as anyone knows.
  if (field.none !== undefined) return { value: field.none, isSure: false };
  return field.default === undefined ? undefined : { value: field.default, isSure: false };
}
