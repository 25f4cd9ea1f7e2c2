import { findInChain, type Chain } from '../theme/chain.ts';
import type { Theme } from '../theme/theme.ts';

/** A stylesheet that the host loads. */
export interface LoadedSheet {
  readonly theme: Theme;
  readonly path: string;
}

/** The stylesheets that the host loads on every page, in their order: those of the root of the chain first. */
export function loadedSheets(chain: Chain): LoadedSheet[] {
  return [...mainSheets(chain), ...chain.themes.toReversed().flatMap((theme) => [...listedSheets(theme), ...bundledSheets(theme, chain)])];
}

/** Main sheets: a parent's only when the child asks for it. */
export function mainSheets(chain: Chain): LoadedSheet[] {
  const sheets: LoadedSheet[] = [];
  for (const theme of chain.themes) {
    const { assets, inheritance } = theme.platform.contract;
    const path = assets['main-sheet'];
    if (path === undefined) break;
    if (theme.tree.get(path) !== undefined) sheets.unshift({ theme, path });
    const { styles } = inheritance;
    const fact = styles === undefined ? undefined : theme.fact(styles.fact);
    const field =
      styles === undefined
        ? undefined
        : theme.documents.flatMap((document) => document.contract.fields).find((each) => each.fact === styles.fact);
    const said = typeof fact?.value === 'string' ? fact.value : fact === undefined ? field?.default : '*';
    const isLoaded = said !== undefined && (styles?.loaded.includes(said) === true || styles?.loaded.includes('*') === true);
    if (!isLoaded) break;
  }
  return sheets;
}

function listOf(theme: Theme, fact: string | undefined): readonly string[] {
  const value = fact === undefined ? undefined : theme.fact(fact)?.value;
  return Array.isArray(value) ? (value as readonly string[]) : [];
}

/** Sheets that a theme lists itself. */
function listedSheets(theme: Theme): LoadedSheet[] {
  return listOf(theme, theme.platform.contract.assets['sheets-fact']).map((path) => ({ theme, path }));
}

/** Sheets of the bundles that a theme asks for, each from the nearest theme that defines it. */
function bundledSheets(theme: Theme, chain: Chain): LoadedSheet[] {
  const { assets, bundles } = theme.platform.contract;
  if (bundles === undefined) return [];
  return listOf(theme, assets['bundles-fact']).flatMap((name) => {
    const file = findInChain(chain, bundles.file.replace('{name}', name));
    const fact = file?.theme.facts.find((each) => each.name === bundles.sheets && each.document.path === file.path);
    const paths = Array.isArray(fact?.value) ? (fact.value as readonly string[]) : [];
    return file === undefined ? [] : paths.map((path) => ({ theme: file.theme, path }));
  });
}
