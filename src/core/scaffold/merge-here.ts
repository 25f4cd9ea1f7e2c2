import { findEntry, type WritableValue } from '../documents/syntax.ts';
import { withFile } from '../files/changed-tree.ts';
import { spell, splitWords } from '../names/spelling.ts';
import { isInSpan, isNeeded, releasesInRange } from '../platform/platform.ts';
import { beginDocument, proposedValue, writable } from '../facts/begin-document.ts';
import { openChain } from '../theme/chain.ts';
import { isOneOfMany, isSameDocument, isSameField, isSound, keyPath, type ThemeDocument } from '../theme/documents.ts';
import { declaredRegions, printedRegions } from '../contents/regions.ts';
import type { Shelves } from '../theme/shelf.ts';
import { Theme } from '../theme/theme.ts';
import { setField } from '../facts/write-field.ts';

/**
 * Completes the documents of a folder that is a theme by half: those that are not there are begun, in the files that are
 * there without them; a required value that is missing is written; the kit’s bundles and the regions that templates print are
 * declared. Nothing that a document says is changed.
 * @param made the theme that the kit makes, for values that nobody gave
 * @param given facts that someone gave, by name
 */
export function completeDocuments(theme: Theme, made: Theme, given: ReadonlySet<string>, shelves: Shelves): Theme {
  let done = theme;
  for (const before of theme.documents) {
    const { contract } = before;
    const current = (): ThemeDocument | undefined => done.documents.find((each) => isSameDocument(each, before));
    const document = current();
    if (document === undefined || isOneOfMany(document)) continue;
    done = withBeginning(done, document, made, given);
    for (const field of contract.fields) {
      const now = current();
      if (now === undefined || !isSound(now) || findEntry(now.root, keyPath(field)) !== undefined) continue;
      const value = lackingValue(done, now, field, made, given);
      if (value !== undefined) done = written(done, now, keyPath(field), value);
    }
  }
  return withRegions(done, shelves);
}

type Field = ThemeDocument['contract']['fields'][number];

/** The value that the made theme has for a field of the same document. */
function madeValue(made: Theme, { path }: Pick<ThemeDocument, 'path'>, field: Field): WritableValue | undefined {
  return made.facts.find((fact) => fact.document.path === path && isSameField(fact.field, field))?.value;
}

function withBeginning(theme: Theme, document: ThemeDocument, made: Theme, given: ReadonlySet<string>): Theme {
  const { contract, path } = document;
  if (!isNeeded(contract.required, theme.isChild)) return theme;
  const values = contract.fields.flatMap((field): [string, WritableValue][] => {
    const value = madeValue(made, document, field);
    const isWanted = given.has(field.fact) || isNeeded(field.required, made.isChild);
    return value === undefined || !isWanted || field.shape !== undefined ? [] : [[field.fact, typed(value, field)]];
  });
  const begun = beginDocument(theme, document, Object.fromEntries(values));
  return begun === undefined ? theme : withBytes(theme, path, begun.bytes);
}

/** A value for a missing field: a required or given one, and bundles and sheets whose files are there. */
function lackingValue(
  theme: Theme,
  document: ThemeDocument,
  field: Field,
  made: Theme,
  given: ReadonlySet<string>,
): WritableValue | undefined {
  const { assets } = theme.platform.contract;
  const value = madeValue(made, document, field);
  const releases = releasesInRange(theme.platform, theme.hosts);
  if (isNeeded(field.required, theme.isChild) && isInSpan(field, releases)) {
    const proposed = value === undefined ? proposedValue(theme, field)?.value : undefined;
    return value === undefined ? (proposed === undefined ? undefined : writable(proposed, field)) : typed(value, field);
  }
  if (value !== undefined && given.has(field.fact)) return typed(value, field);
  const isAsset = field.fact === assets['bundles-fact'] || field.fact === assets['sheets-fact'];
  return isAsset && Array.isArray(value) && (value as readonly string[]).every((each) => isThere(theme, field, each)) ? value : undefined;
}

/** Whether the bundle or the file that an entry of a field names is there. */
function isThere({ tree, platform }: Theme, { fact, under }: Field, entry: string): boolean {
  const { assets, bundles } = platform.contract;
  if (bundles !== undefined && fact === assets['bundles-fact']) return tree.get(bundles.file.replace('{name}', entry)) !== undefined;
  return tree.get(under === undefined ? entry : `${under}/${entry}`) !== undefined;
}

function typed(value: WritableValue, field: Field): WritableValue {
  return typeof value === 'string' ? writable(value, field) : value;
}

/** Declares the regions that the theme’s templates print, where it declares any. */
function withRegions(theme: Theme, shelves: Shelves): Theme {
  const { regions } = theme.platform.contract;
  if (regions === undefined || regions['per-role']) return theme;
  const chain = openChain(theme, shelves);
  const declared = declaredRegions(chain);
  const known = new Set(declared?.regions.map(({ name }) => name) ?? regions.defaults);
  const printed = printedRegions(chain).filter((each) => each.theme === theme && !known.has(each.name));
  const missing = [...new Set(printed.map(({ name }) => name))];
  const document = theme.documents.find(({ contract }) => contract.fields.some(({ fact }) => fact === regions.fact));
  const field = document?.contract.fields.find(({ fact }) => fact === regions.fact);
  if (missing.length === 0 || document === undefined || field === undefined || (declared !== undefined && declared.theme !== theme))
    return theme;
  const own = theme.fact(regions.fact)?.value;
  // The host's defaults are gone as soon as a theme declares anything.
  const before = own === undefined ? regions.defaults : [];
  if (Array.isArray(own) || field.type === 'list') {
    const list = Array.isArray(own) ? (own as readonly string[]) : before;
    return written(theme, document, keyPath(field), [...list, ...missing]);
  }
  return [...before, ...missing].reduce((now, name) => {
    const current = now.documents.find((each) => isSameDocument(each, document));
    return current === undefined ? now : written(now, current, [...keyPath(field), name], spell(splitWords(name), 'title'));
  }, theme);
}

/** The theme with a field written; as it was where the document cannot hold it. */
function written(theme: Theme, document: ThemeDocument, key: readonly string[], value: WritableValue): Theme {
  const edits = setField(document, key, value);
  const bytes = edits === undefined ? undefined : document.source?.encode(document.source.withEdits(edits).text);
  return bytes === undefined ? theme : withBytes(theme, document.path, bytes);
}

function withBytes(theme: Theme, path: string, bytes: Buffer): Theme {
  return new Theme(theme.platform, withFile(theme.tree, path, bytes), theme.names, theme.location);
}
