import { followLinks } from '../files/file-tree.ts';
import { matchesAny } from '../files/glob.ts';
import { fillShape, wholePattern } from '../names/shape.ts';
import { isInKits } from '../platform/platform.ts';
import { kindOfPath } from '../text/file-kinds.ts';
import type { Chain } from '../theme/chain.ts';
import { CONFIGURATION_NAMES } from '../contents/package-contents.ts';
import { readOverrides } from '../contents/overrides.ts';
import { declaredRegions, printedRegions } from '../contents/regions.ts';
import { rolesOf, serveRole } from '../contents/roles.ts';
import { loadedSheets } from '../contents/sheets.ts';
import { isTemplate, partialsOf } from '../contents/templates.ts';
import type { Theme } from '../theme/theme.ts';

/** A theme of the chain, or a parent that every host brings. */
export interface Layer {
  readonly id: string;
  readonly title: string | undefined;
  readonly version: string | undefined;
  readonly kind: 'theme' | 'commons' | 'built-in';
  /** Where it lies, as people would type it; undefined for what the host brings. */
  readonly location: string | undefined;
}

export const TRACED_KINDS = ['page', 'partial', 'stylesheet', 'script', 'picture', 'font', 'texts', 'document', 'other'] as const;
export type TracedKind = (typeof TRACED_KINDS)[number];

/** A file that the host takes from the chain. Layers are numbers into {@link Trace.layers}. */
export interface TracedFile {
  readonly path: string;
  readonly kind: TracedKind;
  readonly from: number;
  /** Those that have a file of this path, too, and are not asked. */
  readonly shadows: readonly number[];
  /** Whether it was taken from a parent on record, and from which version. */
  readonly taken?: { readonly theme: string; readonly version: string | undefined } | undefined;
}

/** A page role, and what serves it. */
export interface TracedRole {
  readonly role: string;
  /** Undefined when nothing does. */
  readonly path: string | undefined;
  readonly from: number | undefined;
  /** The roles that were asked, this one first. */
  readonly asked: readonly string[];
}

export interface TracedRegion {
  readonly name: string;
  /** Undefined when the host offers it by itself. */
  readonly declared: number | undefined;
  readonly printed: readonly { readonly from: number; readonly path: string; readonly line: number }[];
}

/** What of a theme comes from where. */
export interface Trace {
  readonly layers: readonly Layer[];
  /** A parent that is not there: what it would serve nobody knows. */
  readonly broken: Chain['broken'];
  readonly roles: readonly TracedRole[];
  readonly files: readonly TracedFile[];
  /** The stylesheets that the host loads by itself or as the theme lists them, in their order. */
  readonly sheets: readonly { readonly from: number; readonly path: string }[];
  readonly regions: readonly TracedRegion[];
}

/** Tells for all that a theme is made of from which theme of its chain it comes. */
export function traceTheme(chain: Chain): Trace {
  const [theme] = chain.themes;
  if (theme === undefined) return { layers: [], broken: chain.broken, roles: [], files: [], sheets: [], regions: [] };
  const layers = layersOf(chain);
  const numberOf = (each: Theme): number => chain.themes.indexOf(each);
  const builtIn = (id: string): number => layers.findIndex((layer) => layer.kind === 'built-in' && layer.id === id);
  return {
    layers,
    broken: chain.broken,
    roles: tracedRoles(chain, numberOf, builtIn),
    files: tracedFiles(chain),
    sheets: loadedSheets(chain).map(({ theme: from, path }) => ({ from: numberOf(from), path })),
    regions: tracedRegions(chain, numberOf),
  };
}

export function layersOf(chain: Chain): Layer[] {
  const named = new Set(chain.themes.flatMap((theme) => theme.ancestors));
  const brought = chain.themes[0]?.platform.contract.inheritance['built-in'] ?? [];
  const themes = chain.themes.map((theme): Layer => ({
    id: theme.names.id,
    title: theme.names.title,
    version: theme.text('version'),
    kind: chain.commons.has(theme) ? 'commons' : 'theme',
    location: theme.location,
  }));
  const isThere = (id: string): boolean => themes.some((layer) => layer.id === id);
  const builtIn = brought
    .filter((id) => named.has(id) && !isThere(id))
    .map((id): Layer => ({ id, title: undefined, version: undefined, kind: 'built-in', location: undefined }));
  return [...themes, ...builtIn];
}

function tracedRoles(chain: Chain, numberOf: (theme: Theme) => number, builtIn: (id: string) => number): TracedRole[] {
  const roles = chain.themes[0]?.platform.contract.templates?.roles ?? {};
  const nameOf = (path: string): string => Object.entries(roles).find(([, { file }]) => file === path)?.[0] ?? path;
  const [theme] = chain.themes;
  return (theme === undefined ? [] : rolesOf(theme)).map((role) => {
    const served = serveRole(chain, role);
    const from =
      served.file !== undefined ? numberOf(served.file.theme) : served.builtIn === undefined ? undefined : builtIn(served.builtIn.id);
    return { role, path: served.file?.path ?? served.builtIn?.path, from, asked: served.tried.map(nameOf) };
  });
}

/** Whether the host looks for a file of a theme of the chain, when no nearer one has it. */
export function isOffered(chain: Chain, i: number, path: string): boolean {
  const [first] = chain.themes;
  const theme = chain.themes[i];
  if (i === 0 || first === undefined || theme === undefined) return true;
  return chain.commons.has(theme) || matchesAny(path, first.platform.contract.inheritance.inherits);
}

function tracedFiles(chain: Chain): TracedFile[] {
  const holders = new Map<string, number[]>();
  for (const [i, theme] of chain.themes.entries()) {
    for (const { kind, path } of theme.tree.entries) {
      const isOurs = CONFIGURATION_NAMES.includes(path) || isInKits(theme.platform, path);
      if (kind === 'folder' || isOurs || !isOffered(chain, i, path) || followLinks(theme.tree, path)?.kind !== 'file') continue;
      holders.set(path, [...(holders.get(path) ?? []), i]);
    }
  }
  const [first] = chain.themes;
  const taken = first === undefined ? [] : readOverrides(first.tree).taken;
  const kindOf = kindsOf(chain);
  return [...holders]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([path, [from = 0, ...shadows]]): TracedFile => {
      const kind = kindOf(path, chain.themes[from]);
      const record = from === 0 ? taken.find(({ file }) => file === path) : undefined;
      return {
        path,
        kind,
        from,
        // A document speaks for its own theme: it does not take another’s place.
        shadows: kind === 'document' ? [] : shadows,
        ...(record === undefined ? {} : { taken: { theme: record.theme, version: record.version } }),
      };
    });
}

const KINDS: Readonly<Record<string, TracedKind>> = { stylesheet: 'stylesheet', script: 'script', picture: 'picture', font: 'font' };

/** The purpose of a theme's file, in its platform's words. */
function kindsOf(chain: Chain): (path: string, theme: Theme | undefined) => TracedKind {
  const contract = chain.themes[0]?.platform.contract;
  const pages = new Set(Object.values(contract?.templates?.roles ?? {}).map(({ file }) => file));
  const partials = new Set(chain.themes.flatMap((theme) => partialsOf(theme).map(({ path }) => path)));
  const texts = contract?.strings?.file;
  const documents = new Set(chain.themes.flatMap((theme) => theme.documents.map(({ path }) => path)));
  return (path, theme) => {
    if (pages.has(path)) return 'page';
    if (theme !== undefined && texts !== undefined && wholePattern(fillShape(texts, theme.names)).test(path)) return 'texts';
    if (contract?.assets['main-sheet'] === path) return 'stylesheet';
    if (documents.has(path)) return 'document';
    if (partials.has(path)) return 'partial';
    if (theme !== undefined && isTemplate(theme, path)) return 'page';
    return KINDS[kindOfPath(path)] ?? 'other';
  };
}

function tracedRegions(chain: Chain, numberOf: (theme: Theme) => number): TracedRegion[] {
  const declared = declaredRegions(chain);
  const defaults = chain.themes[0]?.platform.contract.regions?.defaults ?? [];
  const printed = printedRegions(chain);
  const names = new Set([...(declared?.regions.map(({ name }) => name) ?? defaults), ...printed.map(({ name }) => name)]);
  return [...names].map((name) => ({
    name,
    declared: declared?.regions.some((each) => each.name === name) === true ? numberOf(declared.theme) : undefined,
    printed: printed
      .filter((each) => each.name === name)
      .map(({ theme, source, start }) => ({ from: numberOf(theme), path: source.file, line: source.positionAt(start).line })),
  }));
}
