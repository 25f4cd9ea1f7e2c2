import { UsageError } from '../errors.ts';
import { findEntry } from '../documents/syntax.ts';
import { folderOf, resolveInTree, type FileTree } from '../files/file-tree.ts';
import { matchesAny } from '../files/glob.ts';
import { MemoryTree, type MemoryItem } from '../files/memory-tree.ts';
import { copyOperations, plannedItems } from '../changes/plan.ts';
import { applyEdits, rangesOverlap, type TextEdit, type TextRange } from '../text/edits.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { fillShape, shapePattern } from '../names/shape.ts';
import { pathOfAddress } from '../contents/serving.ts';
import { nearest } from '../text/nearest.ts';
import { isSameDocument, isSameField, keyPath, type Fact, type ThemeDocument } from '../theme/documents.ts';
import { findMarkupReferences, findSheetReferences, matchesOf, targetsOf } from '../contents/references.ts';
import { withFile } from '../files/changed-tree.ts';
import { Theme } from '../theme/theme.ts';
import { removeField, setField } from '../facts/write-field.ts';
import { templateAt, kindOfFile } from '../contents/templates.ts';
import type { Template } from '../templates/template.ts';
import { pathsOfPartial } from '../templates/template-index.ts';
import { didYouMean } from '../text/sentence.ts';

/** A part of a kit that can be left out. */
export interface KitPart {
  readonly name: string;
  readonly title: string;
  /** Globs of its files. */
  readonly files: readonly string[];
}

/** The parts of these names, or of the files that globs match. @throws UsageError when the kit has neither */
export function chooseParts(parts: readonly KitPart[], wanted: readonly string[], kit: string, tree: FileTree): KitPart[] {
  return wanted.map((name) => {
    const part = parts.find((each) => each.name === name);
    if (part !== undefined) return part;
    const files = wantedFiles(name);
    if (tree.entries.some(({ path }) => matchesAny(path, files))) return { name, title: name, files };
    const known = parts.map((each) => each.name);
    const near = nearest(name, known);
    throw new UsageError({
      what: `the kit “${kit}” has no part “${name}”`,
      hint: didYouMean(
        near,
        known.length === 0 ? 'it has no parts, and no file of that path; globs are taken too: css/**' : `there are ${known.join(', ')}`,
      ),
    });
  });
}

/** `readme` means the readme, whatever it ends with; a folder what is in it. */
function wantedFiles(wanted: string): string[] {
  if (wanted.toLowerCase() === 'readme') return ['README*', 'readme*', 'Readme*'];
  const plain = wanted.replace(/\/$/, '');
  return [plain, `${plain}/**`];
}

/** Everything but the files that globs match, and the documents and files that a theme must have. */
export function allBut(theme: Theme, globs: readonly string[]): KitPart {
  const needed = new Set([
    ...theme.documents.filter(({ contract }) => contract.required !== 'no').map(({ path }) => path),
    ...theme.platform.contract.files.map(({ path }) => fillShape(path, theme.names)),
  ]);
  const files = theme.tree.entries.flatMap(({ kind, path }) =>
    kind === 'folder' || needed.has(path) || matchesAny(path, globs.flatMap(wantedFiles)) ? [] : [escapeGlob(path)],
  );
  return { name: 'the rest', title: 'the rest', files };
}

function escapeGlob(path: string): string {
  return path.replace(/[*?[\]{}!\\]/g, '\\$&');
}

/** A theme without some parts: without their files, and without the entries, includes and elements that refer to them. */
export function withoutParts(theme: Theme, parts: readonly KitPart[]): Theme {
  const globs = parts.flatMap((part) => part.files);
  const removed = removedPaths(theme.tree, globs);
  if (removed.size === 0) return theme;
  const left = plannedItems(copyOperations(theme.tree)).filter((item: MemoryItem) => !removed.has(item.path));
  let result = new Theme(theme.platform, new MemoryTree(left), theme.names, theme.location);
  for (const fact of result.facts) {
    const edits = factEdits(currentFact(result, fact), removed, theme);
    result = withEdits(result, fact.document.path, edits);
  }
  for (const document of result.documents) {
    // A section of its own for a folder that went.
    for (const path of removed) {
      // A section that is called as a plain word may be about anything.
      const isThere = path.includes('/') && findEntry(document.root, [path]) !== undefined;
      if (isThere) result = withEdits(result, document.path, removeField(currentDocument(result, document), [path]) ?? []);
    }
  }
  for (const { path, kind } of result.tree.entries) {
    const source = kind === 'file' ? result.source(path) : undefined;
    if (source !== undefined) result = withEdits(result, path, referenceEdits(source, result, removed));
  }
  return result;
}

/** Paths of the files that match, and of the folders that hold nothing else. */
function removedPaths(tree: FileTree, globs: readonly string[]): Set<string> {
  const removed = new Set(tree.entries.filter(({ path, kind }) => kind !== 'folder' && matchesAny(path, globs)).map(({ path }) => path));
  for (const { path } of tree.entries.filter(({ kind }) => kind === 'folder').toReversed()) {
    const inside = tree.entries.filter((each) => folderOf(each.path) === path);
    if (inside.length > 0 && inside.every((each) => removed.has(each.path))) removed.add(path);
  }
  return removed;
}

function withEdits(theme: Theme, path: string, edits: readonly TextEdit[]): Theme {
  const source = edits.length === 0 ? undefined : theme.source(path);
  const bytes = source?.encode(applyEdits(source.text, edits));
  return bytes === undefined ? theme : new Theme(theme.platform, withFile(theme.tree, path, bytes), theme.names, theme.location);
}

/** Edits move places: the same fact and document have to be looked up in the theme as it is by now. */
function currentFact(theme: Theme, { document, field }: Fact): Fact | undefined {
  return theme.facts.find((fact) => fact.document.path === document.path && isSameField(fact.field, field));
}

function currentDocument(theme: Theme, before: ThemeDocument): ThemeDocument {
  const { path, contract, declared } = before;
  return (
    theme.documents.find((document) => isSameDocument(document, before)) ?? {
      path,
      contract,
      declared,
      title: path,
      state: 'missing',
      problems: [],
    }
  );
}

/** Edits that take what refers to removed files out of a field. */
function factEdits(fact: Fact | undefined, removed: ReadonlySet<string>, theme: Theme): TextEdit[] {
  if (fact === undefined) return [];
  const { field, document, value } = fact;
  const path = keyPath(field);
  const isGone = (text: string): boolean => namesOf(text, field.under, theme).some((each) => removed.has(each));
  if (typeof value === 'string') return isGone(value) ? (removeField(document, path) ?? []) : [];
  if (Array.isArray(value)) {
    const left = (value as readonly string[]).filter((item) => !isGone(item));
    return left.length === value.length ? [] : (setField(document, path, left) ?? []);
  }
  const folder = path.at(-1) ?? '';
  const isKeyGone = (key: string): boolean => [...removed].some((each) => each.replace(/\.[^./]+$/, '').endsWith(`${folder}/${key}`));
  const gone = Object.entries(value ?? {}).filter(([key, text]) => isGone(text) || isKeyGone(key));
  return gone.flatMap(([key]) => removeField(document, [...path, key]) ?? []);
}

/** The paths that a value can mean: from the theme's root, from the folder that its field starts at, or a bundle's. */
function namesOf(text: string, under: string | undefined, { platform }: Theme): string[] {
  const { bundles } = platform.contract;
  const own = [text.replace(/^\.?\//, ''), ...(under === undefined ? [] : [`${under}/${text}`])];
  return bundles === undefined ? own : [...own, bundles.file.replace('{name}', text)];
}

/** Edits that take includes, elements, imports and calls that refer to removed files out of a text. */
function referenceEdits(source: SourceDocument, theme: Theme, removed: ReadonlySet<string>): TextEdit[] {
  const { file, text } = source;
  const { assets } = theme.platform.contract;
  const ranges: TextRange[] = [];
  const placeOf = (target: string): string | undefined => {
    const root = assets['theme-root'];
    if (root !== undefined && target.startsWith(root)) return target.slice(root.length);
    const called = assets.addresses.flatMap((shape) => shapePattern(shape).exec(target)?.groups?.['path'] ?? [])[0];
    if (called !== undefined) return pathOfAddress(theme.platform, called);
    return resolveInTree(folderOf(file), target.replace(/[?#].*$/s, ''));
  };
  const isGone = (target: string): boolean => removed.has(placeOf(target) ?? '') || removed.has(target.replace(/^\//, ''));
  const placed = templateAt(theme, file);
  const kind = kindOfFile(theme, file);
  if (placed !== undefined) {
    for (const { name, start, end } of placed.template.includes)
      if (pathsOfPartial(placed.contract, name, file).some((path) => removed.has(path)))
        ranges.push(tagAround(placed.template, { start, end }));
    for (const reference of theme.platform.contract.references) {
      if (!matchesAny(file, reference.files)) continue;
      for (const match of matchesOf(reference.shape, text)) {
        const range = { start: match.index, end: match.index + match[0].length };
        if (targetsOf(reference, match).some((target) => removed.has(target))) ranges.push(tagAround(placed.template, range));
      }
    }
    for (const reference of findMarkupReferences(text)) if (isGone(reference.target)) ranges.push(elementAround(text, reference));
  } else if (kind === 'stylesheet') {
    for (const reference of findSheetReferences(text)) {
      if (isGone(reference.target) && reference.by === '@import') ranges.push(statementAround(text, reference, '@import'));
    }
  } else if (kind === 'code' || kind === 'script') {
    for (const match of text.matchAll(
      /\b(?:require|include)(?:_once)?\b[^;\n]*["']([^"'\n]+)["'][^;\n]*;|\bimport\b[^;\n]*["']([^"'\n]+)["'];?/g,
    )) {
      const target = match[1] ?? match[2] ?? '';
      if (isGone(target) || isGone(`.${target}`)) ranges.push({ start: match.index, end: match.index + match[0].length });
    }
  }
  const distinct = ranges.filter((range, i) => !ranges.slice(0, i).some((other) => rangesOverlap(range, other)));
  return distinct.map((range) => ({ ...withLine(text, range), text: '' }));
}

/** The tag that prints what a range of a template gives; the range itself where none does. */
function tagAround({ prints }: Template, range: TextRange): TextRange {
  return prints.find(({ start, end }) => start <= range.start && end >= range.end) ?? range;
}

/** The element whose attribute a reference is: with its end tag when nothing stands in between. */
function elementAround(text: string, { start, end }: TextRange): TextRange {
  const open = text.lastIndexOf('<', start);
  const close = text.indexOf('>', end) + 1;
  const name = /^<([\w-]+)/.exec(text.slice(open, start))?.[1] ?? '';
  const endTag = new RegExp(`^\\s*</${name}\\s*>`, 'i').exec(text.slice(close));
  return { start: open, end: close + (endTag?.[0].length ?? 0) };
}

function statementAround(text: string, { start, end }: TextRange, opening: string): TextRange {
  const close = text.indexOf(';', end);
  return { start: text.lastIndexOf(opening, start), end: close < 0 ? end : close + 1 };
}

/** A range with its whole line, when nothing else stands on it. */
function withLine(text: string, { start, end }: TextRange): TextRange {
  const lineStart = text.lastIndexOf('\n', start - 1) + 1;
  const rest = /^[ \t]*(?:\r?\n|$)/.exec(text.slice(end))?.[0];
  const isAlone = text.slice(lineStart, start).trim() === '' && rest !== undefined;
  return isAlone ? { start: lineStart, end: end + rest.length } : { start, end };
}
