import mustache from 'mustache';
import { posix } from 'node:path';
import { findInChain, type Chain } from '../theme/chain.ts';
import { serveRole } from '../theme/roles.ts';
import type { Theme } from '../theme/theme.ts';
import { pathsOfPartial } from '../templates/template-index.ts';
import { languageOf } from '../templates/languages.ts';
import { templateTarget } from '../theme/serving.ts';
import { withIncluded } from '../theme/templates.ts';
import { loadedSheets } from '../theme/sheets.ts';

/** A page as the stand-in host shows it. */
export interface Page {
  readonly role: string;
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
}

/** Shows every page role with the platform's sample content. `placeOf` says where a theme lies, from the site's root. */
export function showPages(chain: Chain, placeOf: (theme: Theme) => string): Page[] {
  const platform = chain.themes[0]?.platform;
  const roles = Object.keys(platform?.contract.templates?.roles ?? {});
  return roles.map((role) => showPage(chain, role, placeOf));
}

function showPage(chain: Chain, role: string, placeOf: (theme: Theme) => string): Page {
  const { file, builtIn } = serveRole(chain, role);
  if (builtIn !== undefined) return { role, template: builtIn.path, from: builtIn.id, html: '', bytes: 0, isRendered: false };
  const source = file?.theme.source(file.path);
  const contract = chain.themes[0]?.platform.contract.templates;
  if (file === undefined || source === undefined || contract === undefined)
    return { role, html: '', bytes: 0, isRendered: false, problem: 'no template serves it' };
  const { isRendered } = languageOf(contract);
  const at = { role, template: file.path, from: file.theme.names.id, isRendered };
  const lacking = missingPartials(chain, file.path);
  if (lacking.length > 0)
    return { ...at, html: '', bytes: 0, problem: `it includes ${lacking.join(', ')}, which no theme of the chain has` };
  if (!isRendered) return { ...at, html: '', bytes: 0 };
  try {
    const partial = (name: string): string => readPartial(chain, name, placeOf);
    const html = mustache.render(withThemeRoot(source.text, file.theme, placeOf), sampleFor(chain, role, placeOf), partial);
    return { ...at, html, bytes: Buffer.byteLength(html) };
  } catch (error) {
    return { ...at, html: '', bytes: 0, problem: error instanceof Error ? error.message : String(error) };
  }
}

/** The paths of partials that a template includes, itself or by way of others, and that nothing serves. */
function missingPartials(chain: Chain, path: string): string[] {
  const missing = withIncluded(chain, path).flatMap(({ contract, template, path: from }) =>
    [...template.includes, ...template.extends].flatMap(({ name }) => {
      const target = templateTarget(chain, contract, name, from);
      return target?.kind === 'missing' ? [target.path] : target?.kind === 'stranger' ? [name] : [];
    }),
  );
  return [...new Set(missing)];
}

function readPartial(chain: Chain, name: string, placeOf: (theme: Theme) => string): string {
  const { templates } = chain.themes[0]?.platform.contract ?? {};
  // The language that is rendered here names partials from the theme’s root alone.
  const [path] = templates === undefined ? [] : pathsOfPartial(templates, name, '');
  const file = path === undefined ? undefined : findInChain(chain, path);
  return file === undefined ? '' : withThemeRoot(file.theme.source(file.path)?.text ?? '', file.theme, placeOf);
}

/** A template's own folder is known where the template is, not where it is included: it is put in before rendering. */
function withThemeRoot(template: string, theme: Theme, placeOf: (theme: Theme) => string): string {
  const root = theme.platform.contract.assets['theme-root'];
  return root === undefined ? template : template.replaceAll(root, `${placeOf(theme)}/`);
}

/** The platform's sample content, with the links to the stylesheets that the host prints, and the role that is shown. */
function sampleFor(chain: Chain, role: string, placeOf: (theme: Theme) => string): Record<string, unknown> {
  const contract = chain.themes[0]?.platform.contract;
  const sample = structuredClone(contract?.sample ?? {});
  const printedBy = contract?.assets['sheets-printed-by']?.split('.') ?? [];
  const last = printedBy.at(-1);
  let map = sample;
  for (const key of printedBy.slice(0, -1)) map = (map[key] ??= {}) as Record<string, unknown>;
  if (last !== undefined) map[last] = `${typeof map[last] === 'string' ? map[last] : ''}${sheetLinks(chain, placeOf)}`;
  return { ...sample, role, [`is-${role}`]: true };
}

function sheetLinks(chain: Chain, placeOf: (theme: Theme) => string): string {
  return loadedSheets(chain)
    .map(({ theme, path }) => `\n<link rel="stylesheet" href="${posix.join(placeOf(theme), path)}">`)
    .join('');
}
