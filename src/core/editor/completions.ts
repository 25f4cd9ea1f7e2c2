import licenses from 'spdx-license-ids/index.json' with { type: 'json' };
import { bundleNames } from '../contents/bundle-names.ts';
import { referencesIn } from '../contents/references.ts';
import { declaredRegions } from '../contents/regions.ts';
import { addressOfPath, madeFrom } from '../contents/serving.ts';
import { partialsOf, templateAt } from '../contents/templates.ts';
import { readCatalogues } from '../contents/catalogues.ts';
import { childrenOf, findEntry, type ValueNode } from '../documents/syntax.ts';
import { folderOf, isInFolder } from '../files/file-tree.ts';
import { matchesAny } from '../files/glob.ts';
import { shapePattern } from '../names/shape.ts';
import { posix } from 'node:path';
import type { FieldContract } from '../platform/schema.ts';
import { searchTemplate } from '../templates/template-index.ts';
import { keyPath, type ThemeDocument } from '../theme/documents.ts';
import type { Theme } from '../theme/theme.ts';
import type { EditedFile } from './editor-workspace.ts';
import { mentionsNear } from './spots.ts';
import { chainOf } from '../theme/chain.ts';
import { OverlayTree } from './overlay-tree.ts';
import type { Completion, Proposal } from './completion.ts';
import { fragmentsAt, wantedNamesAt } from './wanted-words.ts';

/** Stands where the cursor is while the file is read again: what the readers take it for is what can be completed. */
export const MARK = 'zqpionerozq';
/** What may have to follow for a reader to see the end of what was begun. */
const TAILS = ['', '}}', ' }}', '"', "'", '")', "')", '" %}', "' %}", '" />', ': x', ' = x', '": 1', "' => 1", '></x>'];
const WORD = /[\w./@-]*$/;

/** Proposals for an offset of a file. */
export function completionsAt(file: EditedFile, offset: number): Completion[] {
  return [...fragmentsAt(file, offset), ...namedAt(file, offset)];
}

/** Files, regions, values and fields that can stand at an offset. */
function namedAt(file: EditedFile, offset: number): Completion[] {
  const text = file.theme.source(file.path)?.text ?? '';
  const word = WORD.exec(text.slice(0, offset))?.[0] ?? '';
  // A slash at its beginning can be a part of what stands around the word.
  const starts = [0, ...(word.startsWith('/') ? [1] : [])].map((skipped) => offset - word.length + skipped);
  for (const start of starts)
    for (const tail of TAILS) {
      const marked = withText(file, text.slice(0, start) + MARK + tail + text.slice(offset));
      const found = valuesAt(marked) ?? keysAt(marked, text.charAt(start - 1)) ?? wantedNamesAt(marked, MARK, text.slice(start, offset));
      if (found !== undefined) return found.map((each) => ({ ...each, start, end: offset }));
    }
  return [];
}

function withText({ theme, path, chain, opened }: EditedFile, text: string): EditedFile {
  const marked = theme.over(new OverlayTree(theme.tree, new Map([[path, Buffer.from(text)]])));
  return { opened, path, theme: marked, chain: chainOf(chain, [marked, ...chain.themes.slice(1)]) };
}

function valuesAt(file: EditedFile): Proposal[] | undefined {
  return partialsAt(file) ?? regionsAt(file) ?? wordsAt(file) ?? addressesAt(file) ?? mentionedAt(file) ?? fieldValuesAt(file);
}

/** Partials, where one is included. */
function partialsAt({ theme, chain, path }: EditedFile): Proposal[] | undefined {
  const placed = templateAt(theme, path);
  const isIncluding = [...(placed?.template.includes ?? []), ...(placed?.template.extends ?? [])].some(({ name }) => name.includes(MARK));
  if (!isIncluding) return undefined;
  const names = new Map<string, Proposal>();
  for (const [i, each] of chain.themes.entries())
    for (const { name, path: place } of partialsOf(each)) {
      const isOffered = i === 0 || matchesAny(place, theme.platform.contract.inheritance.inherits);
      if (isOffered && !names.has(name) && place !== path)
        names.set(name, { label: name, insert: name, kind: 'partial', about: from(each, i) });
    }
  return [...names.values()];
}

function from(theme: Theme, i: number): string {
  return i === 0 ? 'of this theme' : `of ${theme.names.id}`;
}

function regionsAt({ theme, chain, path }: EditedFile): Proposal[] | undefined {
  const { regions } = theme.platform.contract;
  const placed = templateAt(theme, path);
  if (regions === undefined || placed === undefined) return undefined;
  const isPrinting = [...searchTemplate(placed.template, placed.source.text, shapePattern(regions.printed))].some((match) =>
    match[0].includes(MARK),
  );
  if (!isPrinting) return undefined;
  const declared =
    declaredRegions(chain)
      ?.regions.map(({ name }) => name)
      .filter((name) => !name.includes(MARK)) ?? regions.defaults;
  return [...new Set(declared)].map((name) => ({ label: name, insert: name, kind: 'region' }));
}

/** The keys of texts, where one is asked for. */
function wordsAt({ theme, chain, path }: EditedFile): Proposal[] | undefined {
  const { strings } = theme.platform.contract;
  const source = theme.source(path);
  if (strings?.used === undefined || source === undefined) return undefined;
  if (![...source.text.matchAll(shapePattern(strings.used, theme.names))].some((match) => match[0].includes(MARK))) return undefined;
  const keys = chain.themes.flatMap((each) => readCatalogues(each).flatMap((catalogue) => catalogue.keys));
  return [...new Set(keys)].map((key) => ({ label: key, insert: key, kind: 'text' }));
}

/** Files, where a stylesheet or a template asks for one. */
function addressesAt({ theme, chain, path }: EditedFile): Proposal[] | undefined {
  const source = theme.source(path);
  const found = source === undefined ? undefined : referencesIn(theme, source).find(({ reference }) => reference.target.includes(MARK));
  const { 'theme-root': root = '', addresses } = theme.platform.contract.assets;
  const placed = templateAt(theme, path);
  const isAsked =
    placed !== undefined &&
    addresses.some((shape) =>
      [...searchTemplate(placed.template, placed.source.text, shapePattern(shape))].some((match) => match[0].includes(MARK)),
    );
  if (!isAsked && (found === undefined || (!found.isSheet && !found.reference.target.startsWith(root)))) return undefined;
  const folder = found?.isSheet === true ? folderOf(path) : '';
  return filesOf(chain.themes, theme, (each) => !matchesAny(each, theme.platform.contract.templates?.files ?? [])).map(
    ({ path: file, about }) => {
      const shown = isAsked ? addressOfPath(theme.platform, file) : posix.relative(folder, file);
      return { label: shown, insert: shown, kind: 'file', about };
    },
  );
}

/** Files, where one is named as the platform says: under a root, or without its ending. */
function mentionedAt(file: EditedFile): Proposal[] | undefined {
  const { theme, chain, path } = file;
  const mention = mentionsNear(file).find((each) => each.path === path && each.reference.target.includes(MARK));
  if (mention === undefined) return undefined;
  const [before = '', ending = ''] = mention.reference.target.split(MARK);
  return filesOf(chain.themes, theme, (each) => each.endsWith(ending)).flatMap(({ path: named, about }) => {
    const base = posix.join(mention.folder, before);
    const shown = [named, addressOfPath(theme.platform, named)].map((each) => posix.relative(base, each));
    const label = shown.find((each) => !each.startsWith('..'))?.slice(0, -ending.length || undefined);
    return label === undefined || label === '' ? [] : [{ label, insert: label, kind: 'file', about }];
  });
}

/** The files that are served: those of the themes, and those that the host makes of them. */
function filesOf(themes: readonly Theme[], theme: Theme, isWanted: (path: string) => boolean): { path: string; about: string }[] {
  const files = new Map<string, string>();
  for (const [i, each] of themes.entries())
    for (const { kind, path } of each.tree.entries) {
      const isOffered = kind === 'file' && (i === 0 || matchesAny(path, theme.platform.contract.inheritance.inherits));
      for (const served of isOffered ? [path, ...madeFrom(theme.platform, path)] : [])
        if (isWanted(served) && !files.has(served)) files.set(served, from(each, i));
    }
  return [...files].map(([path, about]) => ({ path, about }));
}

/** The values of a field, where the cursor stands in one. */
function fieldValuesAt(file: EditedFile): Proposal[] | undefined {
  for (const document of file.theme.documents.filter(({ path }) => path === file.path)) {
    const field = document.contract.fields.find((each) => holdsMark(findEntry(document.root, keyPath(each))?.value));
    if (field !== undefined) return valuesOf(file, field);
  }
  return undefined;
}

function holdsMark(node: ValueNode | undefined): boolean {
  if (node === undefined) return false;
  if (node.kind === 'scalar') return String(node.value).includes(MARK);
  return node.kind === 'list' && node.items.some(holdsMark);
}

function valuesOf(file: EditedFile, field: FieldContract): Proposal[] {
  const { theme, chain, opened } = file;
  const { contract } = theme.platform;
  const plain = (values: readonly string[], about?: string): Proposal[] =>
    values.map((value) => ({ label: value, insert: value, kind: 'value', about }));
  switch (field.of ?? field.type) {
    case 'boolean':
      return plain(['true', 'false']);
    case 'license':
      return plain(licenses);
    case 'release':
      return plain(contract.releases);
    case 'range':
      return plain(contract.releases.map((release) => `>=${release}`));
    case 'parent':
    case 'theme': {
      const others = opened.shelves.list().filter(({ names }) => names.id !== theme.names.id);
      const brought = plain(
        [...contract.inheritance['built-in'], ...(field.none === undefined ? [] : [field.none])],
        'comes with the host',
      );
      return [
        ...others.map(({ names }): Proposal => ({ label: names.id, insert: names.id, kind: 'theme', about: 'on the shelf' })),
        ...brought,
      ];
    }
    case 'bundle':
      return plain([...bundleNames(chain)]);
    case 'path': {
      const folder = field.under ?? '';
      return filesOf(chain.themes, theme, (path) => folder === '' || isInFolder(path, folder)).map(({ path, about }) => {
        const shown = posix.relative(folder, path);
        return { label: shown, insert: shown, kind: 'file', about };
      });
    }
    default:
      return plain(field.values ?? (field.default === undefined ? [] : [field.default]));
  }
}

/** The fields that a document has not, where a key is being written. @param before what stands before the cursor */
function keysAt(file: EditedFile, before: string): Proposal[] | undefined {
  for (const document of file.theme.documents.filter(({ path }) => path === file.path)) {
    const at = keyWithMark(document.root, []);
    if (at === undefined) continue;
    const isOpen = /["']/.test(before);
    return document.contract.fields.flatMap((field): Proposal[] => {
      const path = keyPath(field);
      const key = path[at.length] ?? '';
      const isHere = path.length === at.length + 1 && at.every((each, i) => path[i] === each) && !/[*{]/.test(key);
      if (!isHere || field['replaced-by'] !== undefined || findEntry(document.root, path) !== undefined) return [];
      return [{ label: key, insert: isOpen ? key : keyText(document, key), kind: 'field', about: field.about }];
    });
  }
  return undefined;
}

function keyWithMark(node: ValueNode | undefined, path: readonly string[]): readonly string[] | undefined {
  for (const { key, value } of childrenOf(node)) {
    if (key.includes(MARK)) return path;
    const below = keyWithMark(value, [...path, key]);
    if (below !== undefined) return below;
  }
  return undefined;
}

/** A key with what stands between it and its value, as the syntax of the document has it. */
function keyText({ contract: { syntax, options } }: ThemeDocument, key: string): string {
  switch (syntax) {
    case 'ini':
      return `${key}${options['colon'] === true ? ': ' : ' = '}`;
    case 'toml':
    case 'key-value':
      return `${key} = `;
    case 'json':
      return `"${key}": `;
    case 'php':
      return `'${key}' => `;
    case 'xml':
      return `<${key}></${key}>`;
    default:
      return `${key}: `;
  }
}
