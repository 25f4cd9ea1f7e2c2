import { findEntry, type MapNode, type WritableValue, type WriteContext } from '../documents/syntax.ts';
import { findSyntax } from '../documents/syntaxes.ts';
import { applyEdits, type TextEdit } from '../text/edits.ts';
import { factValue, isSound, keyPath, splitText, type FactValue, type ThemeDocument } from '../theme/documents.ts';

/** What writers need to know of a document: its syntax's options and the wanted order of its fields. */
function writeContext({ contract }: ThemeDocument): WriteContext {
  return { options: contract.options, order: contract.fields.map(keyPath) };
}

/**
 * Edits that give a field of a document a value; none when it has that value. The one way in which fields are written: the
 * edits are made on a copy and read back, and whatever else the document says must be as it was.
 * @returns undefined when the document cannot be read whole, or its syntax cannot hold the value there
 */
export function setField(document: ThemeDocument, path: readonly string[], value: WritableValue): TextEdit[] | undefined {
  const separator = separatorAt(document, path);
  const written = separator === undefined || !Array.isArray(value) ? value : value.join(separator);
  return verified(
    document,
    ({ syntax, text, context }) => syntax.set(text, path, written, context),
    ({ after }) => isSame(valueAt(after, path, separator), value),
    [path],
  );
}

/** Edits that give an entry of a document another key; undefined like {@link setField}. */
export function renameField(document: ThemeDocument, path: readonly string[], key: string): TextEdit[] | undefined {
  const renamed = [...path.slice(0, -1), key];
  return verified(
    document,
    ({ syntax, text, context }) => syntax.renameKey(text, path, key, context),
    ({ before, after }) =>
      findEntry(after, path) === undefined && isSame(valueAt(after, renamed, undefined), valueAt(before, path, undefined) ?? ''),
    [path, renamed],
  );
}

/** Edits that take a field out of a document; undefined like {@link setField}. */
export function removeField(document: ThemeDocument, path: readonly string[]): TextEdit[] | undefined {
  return verified(
    document,
    ({ syntax, text, context }) => syntax.remove(text, path, context),
    ({ after }) => findEntry(after, path) === undefined,
    [path],
  );
}

interface Writing {
  readonly syntax: NonNullable<ReturnType<typeof findSyntax>>;
  readonly text: string;
  readonly context: WriteContext;
}

function verified(
  document: ThemeDocument,
  write: (writing: Writing) => TextEdit[],
  isWritten: (roots: { before: MapNode; after: MapNode }) => boolean,
  touched: readonly (readonly string[])[],
): TextEdit[] | undefined {
  const { source, root: before, contract } = document;
  const syntax = findSyntax(contract.syntax);
  if (syntax === undefined || source === undefined || before === undefined || !isSound(document)) return undefined;
  const edits = write({ syntax, text: source.text, context: writeContext(document) });
  const { root: after, problems } = syntax.read(applyEdits(source.text, edits), contract.options);
  if (after === undefined || problems.length > 0 || !isWritten({ before, after })) return undefined;
  const others = contract.fields.map(keyPath).filter((path) => !touched.some((each) => isWithin(path, each) || isWithin(each, path)));
  return others.every((path) => isSame(valueAt(after, path, undefined), valueAt(before, path, undefined))) ? edits : undefined;
}

function isWithin(path: readonly string[], other: readonly string[]): boolean {
  return other.every((key, i) => path[i] === key);
}

function separatorAt({ contract }: ThemeDocument, path: readonly string[]): string | undefined {
  return contract.fields.find((field) => keyPath(field).join('\0') === path.join('\0'))?.separator;
}

function valueAt(root: MapNode, path: readonly string[], separator: string | undefined): FactValue | undefined {
  const node = findEntry(root, path)?.value;
  return node === undefined ? undefined : splitText(factValue(node), separator);
}

function isSame(found: FactValue | undefined, wanted: WritableValue | FactValue | undefined): boolean {
  const plain = typeof wanted === 'object' || wanted === undefined ? wanted : String(wanted);
  if (JSON.stringify(found) === JSON.stringify(plain)) return true;
  // An empty list that is written as one text is not a list at all when it is read back.
  return Array.isArray(wanted) && wanted.length === 0 && (found === undefined || found === '' || found.length === 0);
}
