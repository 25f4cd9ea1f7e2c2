import { outsideOf } from '../contents/outside.ts';
import { mentionsOf, referencesIn, type Mention, type Reference } from '../contents/references.ts';
import { declaredRegions } from '../contents/regions.ts';
import { statedPaths } from '../contents/shaped-path.ts';
import { builtInServing, pathOfAddress, servedAt, templateTarget } from '../contents/serving.ts';
import { templateAt } from '../contents/templates.ts';
import { folderOf, resolveInTree } from '../files/file-tree.ts';
import { fillShape, shapePattern } from '../names/shape.ts';
import type { FieldContract } from '../platform/schema.ts';
import { searchTemplate } from '../templates/template-index.ts';
import type { TextRange } from '../text/edits.ts';
import { chainOf, findInChain, parentWith } from '../theme/chain.ts';
import { entriesOf, type Fact, type ThemeDocument } from '../theme/documents.ts';
import type { Theme } from '../theme/theme.ts';
import { FocusTree } from './focus-tree.ts';
import type { EditedFile } from './editor-workspace.ts';

/** The thing that a stretch of a file names. */
export type Target =
  /** A file of a theme: a partial, a picture, a stylesheet. */
  | { readonly kind: 'file'; readonly theme: Theme; readonly path: string; readonly how: 'partial' | 'asset' | 'path' | 'bundle' }
  | { readonly kind: 'theme'; readonly theme: Theme }
  | { readonly kind: 'region'; readonly name: string }
  /** A file that the host brings with a theme of its own. */
  | { readonly kind: 'brought'; readonly id: string; readonly path: string };

/** A stretch of a file that names something. */
export interface Spot extends TextRange {
  readonly target: Target;
}

/** A key of a document, and the field that the platform knows there. */
export interface FieldSpot extends TextRange {
  readonly field: FieldContract;
  readonly document: ThemeDocument;
}

/**
 * Everything in a file that names a file, a theme or a region that is there. In the order of the text.
 * @param mentions those of the whole theme, for whoever asks for many files
 */
export function spotsIn(file: EditedFile, mentions: readonly Mention[] = mentionsNear(file)): Spot[] {
  return [...includesIn(file), ...addressesIn(file), ...mentionsIn(file, mentions), ...factsIn(file), ...regionsIn(file)].sort(
    (a, b) => a.start - b.start,
  );
}

/** The fields of a document, by the keys that stand there. */
export function fieldsIn({ theme, path }: EditedFile): FieldSpot[] {
  return theme.facts.flatMap(({ document, field, node }): FieldSpot[] =>
    document.path === path ? [{ field, document, start: lineStart(document, node.start), end: node.end }] : [],
  );
}

function lineStart({ source }: ThemeDocument, offset: number): number {
  return (source?.text.lastIndexOf('\n', offset - 1) ?? -1) + 1;
}

/** Whether two targets are one thing. */
export function isSameTarget(a: Target, b: Target): boolean {
  if (a.kind === 'file' && b.kind === 'file') return a.path === b.path && a.theme.names.id === b.theme.names.id;
  if (a.kind === 'theme' && b.kind === 'theme') return a.theme.names.id === b.theme.names.id;
  if (a.kind === 'brought' && b.kind === 'brought') return a.id === b.id && a.path === b.path;
  return a.kind === 'region' && b.kind === 'region' && a.name === b.name;
}

function includesIn({ theme, chain, path }: EditedFile): Spot[] {
  const placed = templateAt(theme, path);
  if (placed === undefined) return [];
  return [...placed.template.includes, ...placed.template.extends].flatMap(({ name, nameStart: start }): Spot[] => {
    const target = templateTarget(chain, placed.contract, name, path);
    if (target?.kind !== 'found') return [];
    const range = { start, end: start + name.length };
    const holder =
      target.id === undefined ? findInChain(chain, target.path)?.theme : chain.themes.find(({ names }) => names.id === target.id);
    if (holder !== undefined) return [{ ...range, target: { kind: 'file', theme: holder, path: target.path, how: 'partial' } }];
    const id = target.id ?? builtInServing(chain, target.path);
    return id === undefined ? [] : [{ ...range, target: { kind: 'brought', id, path: target.path } }];
  });
}

function addressesIn(file: EditedFile): Spot[] {
  const { theme, path } = file;
  const source = theme.source(path);
  if (source === undefined) return [];
  const { 'theme-root': root, addresses, served } = theme.platform.contract.assets;
  const plain = referencesIn(theme, source).flatMap(({ reference, isSheet }) => {
    const { target } = reference;
    if (!isSheet && (root === undefined || !target.startsWith(root))) return [];
    const skipped = isSheet || root === undefined ? 0 : root.length;
    const range = { ...reference, start: reference.start + skipped, target: target.slice(skipped) };
    return addressSpot(file, range, isSheet ? folderOf(path) : '');
  });
  const placed = templateAt(theme, path);
  if (placed === undefined) return plain;
  const asked = addresses.flatMap((shape) =>
    [...searchTemplate(placed.template, source.text, shapePattern(shape))].flatMap((match) => {
      const target = match.groups?.['path'] ?? '';
      const start = match.index + match[0].lastIndexOf(target);
      const inTheme = pathOfAddress(theme.platform, target);
      if (inTheme === target && served.length > 0) return [];
      return addressSpot(file, { target: inTheme, by: 'attribute', start, end: start + target.length }, '');
    }),
  );
  return [...plain, ...asked];
}

/** The files that a text names by the shapes of its platform. */
export function mentionsNear({ theme, chain, path }: EditedFile): Mention[] {
  if (theme.platform.contract.references.length === 0) return [];
  const focused = theme.over(new FocusTree(theme.tree, path));
  return [...mentionsOf(chainOf(chain, [focused, ...chain.themes.slice(1)]))];
}

function mentionsIn(file: EditedFile, mentions: readonly Mention[]): Spot[] {
  return mentions.flatMap(({ reference, path, folder }) => (path === file.path ? addressSpot(file, reference, folder) : []));
}

/** The file that an address leads to. @param folder where it starts, from the theme's root */
function addressSpot({ theme, chain, opened }: EditedFile, { target, start, end }: Reference, folder: string): Spot[] {
  if (/^(?:[a-z][a-z0-9+.-]*:|\/|#|\?)/i.test(target) || target.includes('{{')) return [];
  const address = target.replace(/[?#].*$/s, '');
  const resolved = resolveInTree(folder, address);
  // A query or a fragment is not part of the file's name; the name itself can be written shorter than its path, or longer.
  const range = { start, end: end - (target.length - address.length) };
  if (resolved === undefined) {
    const outside = outsideOf(chain, opened.shelves, folder, address);
    return outside?.kind === 'theme' && outside.isServed ? [{ ...range, target: asset(outside.theme, outside.path) }] : [];
  }
  const path = pathOfAddress(theme.platform, resolved);
  const served = servedAt(chain, path);
  if (served === undefined) return [];
  if (served.kind === 'built-in') return [{ ...range, target: { kind: 'brought', id: served.id, path } }];
  const at = served.kind === 'made' ? served.from : path;
  const holder = findInChain(chain, at)?.theme;
  return holder === undefined || holder.tree.get(at)?.kind === 'folder' ? [] : [{ ...range, target: asset(holder, at) }];
}

function asset(theme: Theme, path: string): Target {
  return { kind: 'file', theme, path, how: 'asset' };
}

function factsIn(file: EditedFile): Spot[] {
  return file.theme.facts
    .filter(({ document }) => document.path === file.path)
    .flatMap((fact) => [...pathsOf(file, fact), ...themesOf(file, fact), ...bundlesOf(file, fact)]);
}

function kindsOf({ field }: Fact): readonly string[] {
  return [field.type, field.of ?? '', ...(field.or ?? [])];
}

/** The stretch of a value that a text takes in it, within its quotes. */
function written({ document: { source } }: Fact, text: string, start: number, end: number): TextRange {
  const at = source?.text.slice(start, end).lastIndexOf(text) ?? -1;
  return at < 0 ? { start, end } : { start: start + at, end: start + at + text.length };
}

function pathsOf({ chain }: EditedFile, fact: Fact): Spot[] {
  if (!kindsOf(fact).includes('path')) return [];
  return statedPaths(fact).flatMap(({ path: stated, start, end }): Spot[] => {
    const path = resolveInTree(fact.field.under ?? '', stated.replace(/[?#]\S*$/, ''));
    const holder = path === undefined ? undefined : (findInChain(chain, path)?.theme ?? parentWith(chain, path));
    if (path === undefined || holder === undefined) return [];
    return [{ ...written(fact, stated, start, end), target: { kind: 'file', theme: holder, path, how: 'path' } }];
  });
}

function themesOf({ chain, opened }: EditedFile, fact: Fact): Spot[] {
  const isNamed = kindsOf(fact).some((kind) => kind === 'parent' || kind === 'theme');
  if (!isNamed) return [];
  return entriesOf(fact).flatMap(({ text, start, end }): Spot[] => {
    const shelved = opened.shelves.find(text);
    const theme = chain.themes.find(({ names }) => names.id === text) ?? (shelved === undefined ? undefined : opened.shelves.open(shelved));
    return theme === undefined ? [] : [{ ...written(fact, text, start, end), target: { kind: 'theme', theme } }];
  });
}

function bundlesOf({ theme, chain }: EditedFile, fact: Fact): Spot[] {
  const { bundles } = theme.platform.contract;
  if (bundles === undefined || !kindsOf(fact).includes('bundle')) return [];
  return entriesOf(fact).flatMap(({ text, start, end }): Spot[] => {
    const path = fillShape(bundles.file, theme.names).replace('{name}', text);
    const holder = findInChain(chain, path)?.theme;
    return holder === undefined
      ? []
      : [{ ...written(fact, text, start, end), target: { kind: 'file', theme: holder, path, how: 'bundle' } }];
  });
}

function regionsIn({ theme, chain, path }: EditedFile): Spot[] {
  const { regions } = theme.platform.contract;
  if (regions === undefined) return [];
  const declared = declaredRegions(chain);
  const own = declared?.theme === theme ? declared.regions.filter(({ fact }) => fact.document.path === path) : [];
  const placed = templateAt(theme, path);
  const printed =
    placed === undefined
      ? []
      : [...searchTemplate(placed.template, placed.source.text, shapePattern(regions.printed))].map((match) => {
          const name = match.groups?.['name'] ?? '';
          const start = match.index + match[0].lastIndexOf(name);
          return { name, start, end: start + name.length };
        });
  return [...own, ...printed].map(({ name, start, end }) => ({ start, end, target: { kind: 'region', name } }));
}
