import { findEntry, plainValue, type MapNode, type ValueNode } from '../documents/syntax.ts';
import { findSyntax } from '../documents/syntaxes.ts';
import { isInKits } from '../platform/platform.ts';
import type { SourceDocument } from '../text/source-document.ts';
import type { FullName } from '../names/full-name.ts';
import { fillShape, shapePattern, wholePattern } from '../names/shape.ts';
import type { TextEdit } from '../text/edits.ts';
import { keyPath, type Fact, type ThemeDocument } from '../theme/documents.ts';
import type { Theme } from '../theme/theme.ts';
import { setField } from '../theme/write-field.ts';
import type { KeptStretch } from './kept.ts';

/** Edits that write the new names into the fields that declare them, as the document's syntax wants it. */
export function declaredEdits(theme: Theme, path: string, from: FullName, to: FullName): TextEdit[] {
  const done = new Set<ValueNode>();
  return theme.facts.flatMap((fact) => {
    // A value with a shape carries several facts, and is written once.
    if (fact.document.path !== path || done.has(fact.node)) return [];
    const wanted = declaredValue(fact, from, to);
    if (wanted === undefined || wanted === plainValue(fact.node)) return [];
    done.add(fact.node);
    // What a syntax cannot hold stays as it is: the second scan, and the proof by check, find it there.
    const edits = setField(fact.document, keyPath(fact.field), wanted) ?? [];
    return fact.name === 'title' ? [...edits, ...translatedEdits(fact, from.title, to.title)] : edits;
  });
}

/** What a field must say after the rename; undefined when it says nothing of the theme's names. */
function declaredValue({ name, value, field }: Fact, from: FullName, to: FullName): string | undefined {
  const isName = name === 'id' || name === 'title' || name === 'vendor';
  if (!isName || value !== from[name]) return undefined;
  return field.shape === undefined ? to[name] : fillShape(field.shape, to);
}

/** A title in other languages that is the same, beside it: `Name[de]`. */
function translatedEdits({ document, field }: Fact, old: string, now: string): TextEdit[] {
  if (field.translations === undefined) return [];
  const pattern = wholePattern(field.translations);
  const parent = keyPath(field).slice(0, -1);
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

/** What the platform's contract says in a document: keys that it knows, and values that it gives a choice of. */
export function contractStretches({ contract, root }: ThemeDocument): KeptStretch[] {
  const found: KeptStretch[] = [];
  const reason = { code: 'host' } as const;
  const paths = contract.fields.map((field) => ({ field, path: keyPath(field) }));
  const visit = (map: MapNode, prefix: readonly string[]): void => {
    for (const { key, keyStart, keyEnd, value } of map.entries) {
      const path = [...prefix, key];
      const own = paths.filter((each) => path.every((part, i) => each.path[i] === part));
      if (own.length === 0) continue;
      found.push({ start: keyStart, end: keyEnd, reason });
      const exact = own.find((each) => each.path.length === path.length)?.field;
      if (exact?.values?.some((each) => each === plainValue(value)) === true) found.push({ start: value.start, end: value.end, reason });
      if (value.kind === 'map') visit(value, path);
    }
  };
  if (root !== undefined) visit(root, []);
  return found;
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
