import mustache from 'mustache';
import { posix } from 'node:path';
import { findInChain, type Chain } from '../theme/chain.ts';
import { rolesOf, serveRole } from '../contents/roles.ts';
import type { Theme } from '../theme/theme.ts';
import type { Platform } from '../platform/platform.ts';
import { shapePattern } from '../names/shape.ts';
import { pathsOfPartial, searchTemplate } from '../templates/template-index.ts';
import { languageOf } from '../templates/languages.ts';
import { namesIn } from '../templates/template.ts';
import { templateTarget } from '../contents/serving.ts';
import { withIncluded } from '../contents/templates.ts';
import { loadedSheets } from '../contents/sheets.ts';

/** A page as the stand-in host shows it. */
export interface Page {
  readonly role: string;
  /** The state of the site that it is shown in; undefined for the usual one. */
  readonly state?: string | undefined;
  /** The template that serves it, from its theme's root; undefined when none does. */
  readonly template?: string | undefined;
  /** The id of the theme that the template comes from. */
  readonly from?: string | undefined;
  readonly html: string;
  /** Bytes of the page in UTF-8. */
  readonly bytes: number;
  /** Whether the page was made: of a language that a platform file describes, only what a template includes is followed. */
  readonly isRendered: boolean;
  /** Why it could not be shown as it is meant. */
  readonly problem?: string | undefined;
  /** The regions that its templates print, and whether the sample content fills each. */
  readonly regions: readonly PageRegion[];
}

export interface PageRegion {
  readonly name: string;
  readonly isFilled: boolean;
}

/** How pages are shown. */
export interface ShowOptions {
  /** Where a theme lies, from the site's root. */
  readonly placeOf: (theme: Theme) => string;
  /** Whether each region is outlined and named, to see where a block would land. */
  readonly isOutlined?: boolean | undefined;
  /** The differences from the usual sample content. */
  readonly changes?: Readonly<Record<string, unknown>> | undefined;
}

/** Shows every page role with the platform's sample content. */
export function showPages(chain: Chain, options: ShowOptions): Page[] {
  const [theme] = chain.themes;
  const roles = theme === undefined ? [] : rolesOf(theme);
  return roles.map((role) => showPage(chain, role, options));
}

/** Shows the pages that can be in each of the platform’s states, as they are then. */
export function showStates(chain: Chain, options: ShowOptions): Page[] {
  const { states = {}, templates } = chain.themes[0]?.platform.contract ?? {};
  return Object.entries(states).flatMap(([state, { roles, sample }]) =>
    roles.flatMap((role) =>
      templates?.roles[role] === undefined ? [] : [{ ...showPage(chain, role, { ...options, changes: sample }), state }],
    ),
  );
}

/** The page that visitors of a site come to first: the one that the platform names, where it is shown; else the first that is. */
export function frontPage({ contract }: Platform, pages: readonly Page[]): Page | undefined {
  const shown = pages.filter(({ isRendered }) => isRendered);
  return shown.find(({ role }) => role === contract.templates?.front) ?? shown[0];
}

/** The name of a page among all: its role, and its state where that is not the usual one. */
export function pageName({ role, state }: Pick<Page, 'role' | 'state'>): string {
  return state === undefined ? role : `${role}.${state}`;
}

function showPage(chain: Chain, role: string, options: ShowOptions): Page {
  const { placeOf, changes } = options;
  const { file, builtIn } = serveRole(chain, role);
  if (builtIn !== undefined) return { role, template: builtIn.path, from: builtIn.id, html: '', bytes: 0, isRendered: false, regions: [] };
  const source = file?.theme.source(file.path);
  const contract = chain.themes[0]?.platform.contract.templates;
  if (file === undefined || source === undefined || contract === undefined)
    return { role, html: '', bytes: 0, isRendered: false, regions: [], problem: 'no template serves it' };
  const { isRendered } = languageOf(contract, file.path);
  const sample = sampleFor(chain, role, placeOf, changes);
  const at = { role, template: file.path, from: file.theme.names.id, isRendered, regions: regionsOf(chain, file.path, sample, isRendered) };
  const lacking = missingPartials(chain, file.path);
  if (lacking.length > 0)
    return { ...at, html: '', bytes: 0, problem: `it includes ${lacking.join(', ')}, which no theme of the chain has` };
  if (!isRendered) return { ...at, html: '', bytes: 0 };
  try {
    const partial = (name: string): string => readPartial(chain, name, options);
    const html = mustache.render(asShown(source.text, file.theme, options), sample, partial);
    return { ...at, html, bytes: Buffer.byteLength(html) };
  } catch (error) {
    return { ...at, html: '', bytes: 0, problem: error instanceof Error ? error.message : String(error) };
  }
}

/** The paths of partials that a template includes, itself or by way of others, and that nothing serves. */
function missingPartials(chain: Chain, path: string): string[] {
  const missing = withIncluded(chain, path).flatMap(({ contract, template, path: from }) =>
    [...namesIn(template)].flatMap((name) => {
      const target = templateTarget(chain, contract, name, from);
      return target?.kind === 'missing' ? [target.path] : target?.kind === 'stranger' ? [name] : [];
    }),
  );
  return [...new Set(missing)];
}

function readPartial(chain: Chain, name: string, options: ShowOptions): string {
  const { templates } = chain.themes[0]?.platform.contract ?? {};
  // The language that is rendered here names partials from the theme’s root alone.
  const [path] = templates === undefined ? [] : pathsOfPartial(templates, name, '');
  const file = path === undefined ? undefined : findInChain(chain, path);
  return file === undefined ? '' : asShown(file.theme.source(file.path)?.text ?? '', file.theme, options);
}

/** A template with what is known of the theme that it is in. */
function asShown(template: string, theme: Theme, { placeOf, isOutlined }: ShowOptions): string {
  const { regions } = theme.platform.contract;
  const outlined =
    isOutlined === true && regions !== undefined
      ? template.replace(shapePattern(regions.printed), (printed: string, ...more: unknown[]) => outline(printed, nameIn(more)))
      : template;
  return withThemeRoot(outlined, theme, placeOf);
}

/** The name that a shape of regions found. */
function nameIn(found: readonly unknown[]): string {
  return (found.at(-1) as Readonly<Record<string, string>> | undefined)?.['name'] ?? '';
}

/** A region in a box with its name. Styles stand in the elements: a theme's sheet decides nothing about them. */
function outline(printed: string, name: string): string {
  const box = 'all:revert;display:block;outline:2px dashed #c2185b;outline-offset:-2px;min-height:2.2em';
  const tag = 'all:revert;display:inline-block;background:#c2185b;color:#fff;font:12px/1.5 monospace;padding:0 .5em';
  return `<div style="${box}"><span style="${tag}">${name}</span>${printed}</div>`;
}

/** The regions that a page's template prints, itself or in what it includes. */
function regionsOf(chain: Chain, path: string, sample: Record<string, unknown>, isRendered: boolean): PageRegion[] {
  const { regions } = chain.themes[0]?.platform.contract ?? {};
  if (regions === undefined) return [];
  const pattern = shapePattern(regions.printed);
  const printed = withIncluded(chain, path).flatMap(({ template, source }) => [...searchTemplate(template, source.text, pattern)]);
  const byName = new Map(printed.map((match) => [match.groups?.['name'] ?? '', match[0]]));
  return [...byName].map(([name, text]) => ({ name, isFilled: isRendered && mustache.render(text, sample).trim() !== '' }));
}

/** A template's own folder is known where the template is, not where it is included: it is put in before rendering. */
function withThemeRoot(template: string, theme: Theme, placeOf: (theme: Theme) => string): string {
  const root = theme.platform.contract.assets['theme-root'];
  return root === undefined ? template : template.replaceAll(root, `${placeOf(theme)}/`);
}

/** The platform's sample content, with the links to the stylesheets that the host prints, and the role that is shown. */
function sampleFor(
  chain: Chain,
  role: string,
  placeOf: (theme: Theme) => string,
  changes: Readonly<Record<string, unknown>> = {},
): Record<string, unknown> {
  const contract = chain.themes[0]?.platform.contract;
  const sample = changed(structuredClone(contract?.sample ?? {}), changes) as Record<string, unknown>;
  const printedBy = contract?.assets['sheets-printed-by']?.split('.') ?? [];
  const last = printedBy.at(-1);
  let map = sample;
  for (const key of printedBy.slice(0, -1)) map = (map[key] ??= {}) as Record<string, unknown>;
  if (last !== undefined) map[last] = `${typeof map[last] === 'string' ? map[last] : ''}${sheetLinks(chain, placeOf)}`;
  return { ...sample, role, [`is-${role}`]: true };
}

/** Some data with others laid over: maps are merged, anything else is replaced. */
function changed(data: unknown, changes: unknown): unknown {
  if (!isMap(data) || !isMap(changes)) return structuredClone(changes);
  const merged = { ...data };
  for (const [key, value] of Object.entries(changes)) merged[key] = key in data ? changed(data[key], value) : structuredClone(value);
  return merged;
}

function isMap(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function sheetLinks(chain: Chain, placeOf: (theme: Theme) => string): string {
  return loadedSheets(chain)
    .map(({ theme, path }) => `\n<link rel="stylesheet" href="${posix.join(placeOf(theme), path)}">`)
    .join('');
}
