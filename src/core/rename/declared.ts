import { childrenOf, findEntry, plainValue, type MapNode, type ValueNode, type WritableValue } from '../documents/syntax.ts';
import { findSyntax } from '../documents/syntaxes.ts';
import { resolveInTree, type FileTree } from '../files/file-tree.ts';
import { isInKits } from '../platform/platform.ts';
import type { SourceDocument } from '../text/source-document.ts';
import type { FullName } from '../names/full-name.ts';
import { fillShape, shapePattern, wholePattern } from '../names/shape.ts';
import type { TextEdit } from '../text/edits.ts';
import { escapePattern } from '../text/pattern.ts';
import { statedPaths } from '../contents/shaped-path.ts';
import { factsOf, keyPath, type Fact, type ThemeDocument } from '../theme/documents.ts';
import type { Theme } from '../theme/theme.ts';
import { namedKeys } from '../theme/key-patterns.ts';
import { renameField, setField } from '../facts/write-field.ts';
import type { KeptStretch } from './kept.ts';

/**
 * Edits that write the new names into the fields that declare them, as the document's syntax wants it.
 * @param moves old path → new path, of the files and folders that get another name
 */
export function declaredEdits(
  theme: Theme,
  path: string,
  from: FullName,
  to: FullName,
  moves: ReadonlyMap<string, string> = new Map(),
): TextEdit[] {
  const done = new Set<ValueNode>();
  const keys = theme.documents
    .filter((document) => document.path === path)
    .flatMap((document) =>
      namedKeys(document.declared, document.root, from).flatMap(({ path: key, named: [part] }) =>
        part === undefined ? [] : (renameField(document, key, fillShape(part.shape, to)) ?? []),
      ),
    );
  const values = theme.facts.flatMap((fact) => {
    // A value with a shape carries several facts, and is written once.
    if (fact.document.path !== path || done.has(fact.node)) return [];
    if (isOtherParent(theme, fact, from)) return [];
    const wanted = declaredValue(fact, from, to, (each) => moves.get(resolveInTree('', each) ?? '') ?? each);
    if (wanted === undefined || wanted === plainValue(fact.node)) return [];
    done.add(fact.node);
    // A value that a syntax cannot hold stays as it is: the second scan, and the proof by check, find it there.
    const edits = setField(fact.document, keyPath(fact.field), wanted) ?? inPlace(fact, wanted);
    return fact.name === 'title' ? [...edits, ...translatedEdits(fact, from.title, to.title)] : edits;
  });
  const broken = theme.documents.filter((document) => document.path === path && document.root === undefined);
  return [...keys, ...values, ...broken.flatMap((document) => editsByLine(document, from, to))];
}

/** The fields that carry the names in a document that no syntax can read: the lines that look like them. */
function editsByLine({ contract, source }: ThemeDocument, from: FullName, to: FullName): TextEdit[] {
  return contract.fields.flatMap((field): TextEdit[] => {
    const { fact, shape } = field;
    if (source === undefined || shape !== undefined || (fact !== 'id' && fact !== 'title' && fact !== 'vendor')) return [];
    const [old = '', now = ''] = [from[fact], to[fact]];
    if (old === '' || old === now || !/^[\p{L}\p{N}\p{M} _-]+$/u.test(now)) return [];
    const key = escapePattern(keyPath(field).at(-1) ?? '');
    const line = new RegExp(`^([^\\w\\n]*${key}["']?\\s*[:=]\\s*["']?)${escapePattern(old)}["']?\\s*[,;]?\\s*$`, 'm').exec(source.text);
    const start = line === null ? -1 : line.index + (line[1]?.length ?? 0);
    return start < 0 ? [] : [{ start, end: start + old.length, text: now }];
  });
}

/** Whether a fact names a parent that is called like the theme, and is another vendor’s. */
function isOtherParent(theme: Theme, { name }: Fact, { vendor }: FullName): boolean {
  const { fact } = theme.platform.contract.inheritance;
  return name === fact && theme.parentVendor !== undefined && theme.parentVendor !== vendor;
}

/** A value in a document that has mistakes, and that no syntax writes: where it stands as it is, in letters that every syntax takes. */
function inPlace({ node, document }: Fact, wanted: WritableValue): TextEdit[] {
  if (node.kind !== 'scalar' || typeof wanted !== 'string' || !/^[\p{L}\p{N}\p{M} _-]+$/u.test(wanted)) return [];
  const written = (document.source?.text ?? '').slice(node.start, node.end);
  const at = written.indexOf(String(node.value));
  return at < 0 ? [] : [{ start: node.start + at, end: node.start + at + String(node.value).length, text: wanted }];
}

/** The field's value after the rename; undefined when it does not hold the theme's names. */
function declaredValue(fact: Fact, from: FullName, to: FullName, placeOf: (path: string) => string): WritableValue | undefined {
  const { name, value, field } = fact;
  // Where a theme is named, be it this one or another, and where a path says in which theme it is.
  if (field.type === 'theme' || field.of === 'theme') return withTheme(value, field.shape ?? '{id}', from, to);
  if (field.shape !== undefined && (field.type === 'path' || field.of === 'path')) return inPaths(value, field.shape, from, to, placeOf);
  const isName = name === 'id' || name === 'title' || name === 'vendor';
  if (!isName || value !== from[name]) return undefined;
  return field.shape === undefined ? to[name] : respelt(String(plainValue(fact.node)), field.shape, to);
}

/** Paths that say in which theme they are, those of this theme with its new name, and with the place that the file then has. */
function inPaths(
  value: Fact['value'],
  shape: string,
  from: FullName,
  to: FullName,
  placeOf: (path: string) => string,
): WritableValue | undefined {
  const written = (text: string): string => {
    const path = wholePattern(shape, from).exec(text)?.groups?.['path'];
    return path === undefined ? text : fillShape(shape, to).replaceAll(/\{path(?::\w+)?\}/g, () => placeOf(path));
  };
  if (typeof value === 'string') return written(value);
  return Array.isArray(value) ? value.map(written) : undefined;
}

/** A value that names themes, with one name in the place of another; undefined where it does not name that one. */
function withTheme(value: Fact['value'], shape: string, from: FullName, to: FullName): WritableValue | undefined {
  const isFrom = (text: unknown): text is string => typeof text === 'string' && wholePattern(shape, from).test(text);
  if (Array.isArray(value))
    return value.some(isFrom) ? value.map((each: string) => (isFrom(each) ? respelt(each, shape, to) : each)) : undefined;
  return isFrom(value) ? respelt(value, shape, to) : undefined;
}

/** A shaped value with the new names; what stands for something else in it stays. */
function respelt(text: string, shape: string, to: FullName): string {
  const groups = wholePattern(shape).exec(text)?.groups;
  return fillShape(shape, to).replace(/\{(name|locale|path)(?::\w+)?\}/g, (whole, name: string) => groups?.[name] ?? whole);
}

/** A title in other languages that is the same, beside it: `Name[de]`. */
function translatedEdits({ document, field }: Fact, old: string, now: string): TextEdit[] {
  const path = keyPath(field);
  const own = path.at(-1) ?? '';
  // Where the platform does not say how translations are called: title_de, title-pt-BR, title[es], title.fr.
  const pattern =
    field.translations === undefined
      ? new RegExp(`^${escapePattern(own)}(?:[-_.:@][a-z]{2,3}|\\[[a-z]{2,3})(?:[-_@][A-Za-z]{2,8})?\\]?$`)
      : wholePattern(field.translations);
  const parent = path.slice(0, -1);
  return entriesAt(document.root, parent).flatMap(({ key, value }) =>
    pattern.test(key) && plainValue(value) === old ? (setField(document, [...parent, key], now) ?? []) : [],
  );
}

function entriesAt(root: MapNode | undefined, path: readonly string[]): MapNode['entries'] {
  const [first, ...rest] = path;
  if (first === undefined) return root?.entries ?? [];
  const next = root?.entries.find(({ key }) => key === first)?.value;
  return next?.kind === 'map' ? entriesAt(next, rest) : [];
}

/** The platform's contract in a document: keys that it knows, and values that it gives a choice of. */
export function contractStretches(document: ThemeDocument, names: FullName, tree: FileTree): KeptStretch[] {
  const { contract, declared, root } = document;
  const found: KeptStretch[] = [];
  const reason = { code: 'contract' } as const;
  const paths = contract.fields.map((field) => ({ field, path: keyPath(field) }));
  const owned = new Set(namedKeys(declared, root, names).map(({ path }) => path.join('\0')));
  const visit = (node: ValueNode, prefix: readonly string[]): void => {
    for (const { key, keyStart, keyEnd, value } of childrenOf(node)) {
      const path = [...prefix, key];
      const own = paths.filter((each) => path.every((part, i) => each.path[i] === part));
      if (own.length === 0) continue;
      if (!owned.has(path.join('\0')) && keyEnd > keyStart) found.push({ start: keyStart, end: keyEnd, reason });
      const exact = own.find((each) => each.path.length === path.length)?.field;
      if (exact?.values?.some((each) => each === plainValue(value)) === true) found.push({ start: value.start, end: value.end, reason });
      if (own.some((each) => each.path.length === path.length && each.field['of-others']) && !leadsInside(String(plainValue(value)), tree))
        found.push({ start: value.start, end: value.end, reason: { code: 'other-value', group: 'theirs' } });
      if (value.kind === 'map' || value.kind === 'list') visit(value, path);
    }
  };
  if (root !== undefined) visit(root, []);
  return [...found, ...pathsOfOthers(document, names), ...vendorStretches(document, names)];
}

/** Where a document says the vendor, of the theme or of its parent, who keeps the name. */
function vendorStretches(document: ThemeDocument, { vendor }: FullName): KeptStretch[] {
  return factsOf(document).flatMap(({ field, node, value }) =>
    field.type === 'vendor' && field.shape === undefined && value !== undefined && value === vendor
      ? [{ start: node.start, end: node.end, reason: { code: 'vendor' as const } }]
      : [],
  );
}

/** Whether a value names something in the theme: `albar.colors.Ink`, where it has colours.py. */
function leadsInside(value: string, tree: FileTree): boolean {
  const [, ...parts] = value.split(/[./]/);
  return parts.some((_part, i) => {
    const path = parts.slice(0, i + 1).join('/');
    return tree.get(path)?.kind === 'folder' || tree.get(`${path}.py`) !== undefined || tree.get(path)?.kind === 'file';
  });
}

/** Paths that say that they are in another theme. */
function pathsOfOthers(document: ThemeDocument, { id }: FullName): KeptStretch[] {
  return factsOf(document).flatMap((fact) => {
    const { type, of, shape } = fact.field;
    if (shape === undefined || ![type, of].includes('path')) return [];
    return statedPaths(fact).flatMap((stated): KeptStretch[] =>
      stated.id === undefined || stated.id === id
        ? []
        : [{ start: stated.start, end: stated.end, reason: { code: 'other-theme', about: stated.id } }],
    );
  });
}

/** Where a theme says that it builds on one of a name. */
export function parentStretches({ facts, platform }: Theme, path: string, id: string): KeptStretch[] {
  const { fact, commons } = platform.contract.inheritance;
  const own = facts.filter(({ name, document }) => document.path === path && (name === fact || name === commons?.fact));
  const nodes = own.flatMap(({ node }) => (node.kind === 'list' ? node.items : [node]));
  return nodes
    .filter((node) =>
      String(plainValue(node))
        .split(/[\s,;]+/)
        .includes(id),
    )
    .map(({ start, end }) => ({ start, end, reason: { code: 'other-theme', about: id } }));
}

/** Where the manifest of one of a parent's kits says that it builds on the parent: that is the theme's name, also where it is short. */
export function kitEdits({ platform }: Theme, { file, text }: SourceDocument, from: FullName, to: FullName): TextEdit[] {
  const { fact } = platform.contract.inheritance;
  if (!isInKits(platform, file)) return [];
  return platform.contract.documents.flatMap((contract) => {
    const field = contract.fields.find((each) => each.fact === fact);
    const isManifest = new RegExp(`(?:^|/)_?${shapePattern(contract.path, {}, '').source}(?:\\.\\w+)?$`).test(file);
    if (field === undefined || !isManifest) return [];
    const { root } = findSyntax(contract.syntax)?.read(text, contract.options ?? {}) ?? {};
    const node = findEntry(root, keyPath(field))?.value;
    const nodes = node === undefined ? [] : node.kind === 'list' ? node.items : [node];
    return nodes
      .filter((each) => plainValue(each) === from.id)
      .map(({ start, end }) => ({ start, end, text: text.slice(start, end).replace(from.id, () => to.id) }));
  });
}
