import type { ApplyOptions } from '../changes/apply.ts';
import type { FileTree } from '../files/file-tree.ts';
import type { Platform } from '../platform/platform.ts';
import { checkTheme, type Finding } from '../rules/engine/check.ts';
import { unfinishedIn } from '../rules/engine/unfinished.ts';
import { openChain } from '../theme/chain.ts';
import type { Shelves } from '../theme/shelf.ts';
import { Theme } from '../theme/theme.ts';
import { StandInHost } from './host.ts';
import { showPages, showStates, type Page } from './pages.ts';
import type { ThemeNames } from '../names/full-name.ts';
import { installedOf, type Installed } from '../theme/layout.ts';
import { loadedSheets } from '../contents/sheets.ts';

/** The stand-in host's view of a theme. */
export interface Rehearsal {
  readonly recognised: boolean;
  /** Why it is not recognized. */
  readonly reasons: readonly Finding[];
  /** Why it is not fit to be shown, though the host takes it. */
  readonly unfinished: readonly Finding[];
  readonly theme: Theme;
  /** Ids from the theme to the root of the chain. */
  readonly chain: readonly string[];
  readonly pages: readonly Page[];
  /** The pages in other states of the site than the usual one: empty lists, long words, someone who has signed in. */
  readonly states: readonly Page[];
  /** Where the theme and what it builds on lie, from the site's root; its own place first. */
  readonly homes: readonly string[];
  /** The main stylesheets that the host loads, from the site's root, in order. */
  readonly sheets: readonly string[];
}

export interface RehearsalRequest {
  readonly platform: Platform;
  readonly tree: FileTree;
  readonly names: ThemeNames;
  /** Where its parents are taken from. */
  readonly shelves: Shelves;
  /** Whether pages show where each region is. */
  readonly isOutlined?: boolean | undefined;
  /** Keeps record of the host's folder, so that it goes when this run is killed; aborting the signal ends the rehearsal. */
  readonly applying: ApplyOptions;
  /** Called while the host still stands: to keep a copy of the site. */
  readonly keep?: ((host: StandInHost, pages: readonly Page[]) => Promise<void>) | undefined;
}

/** Installs a theme and its parents into a fresh stand-in host and looks at it as the host does. */
export async function rehearse(request: RehearsalRequest): Promise<Rehearsal> {
  return StandInHost.use(request.platform, request.applying, async (host) => {
    const { signal } = request.applying;
    for (const each of installedIn(request)) await host.install(each, signal);
    const { theme, chain, shelves } = host.open(request.names);
    const reasons = checkTheme(theme, chain, shelves).findings.filter((finding) => finding.isRefusal);
    const homes = new Map(installedOf(chain).map((each) => [each.theme, each.home]));
    const placeOf = (each: Theme): string => homes.get(each) ?? '';
    const recognised = reasons.length === 0;
    const pages = recognised ? showPages(chain, { placeOf, isOutlined: request.isOutlined }) : [];
    const states = recognised ? showStates(chain, { placeOf, isOutlined: request.isOutlined }) : [];
    await request.keep?.(host, [...pages, ...states]);
    const sheets = loadedSheets(chain).map((sheet) => `${placeOf(sheet.theme)}/${sheet.path}`);
    const unfinished = unfinishedIn(theme, chain, shelves);
    return {
      recognised,
      reasons,
      unfinished,
      theme,
      homes: chain.themes.map(placeOf),
      chain: chain.themes.map((each) => each.names.id),
      pages,
      states,
      sheets,
    };
  });
}

/** The files that the theme and its shelves offer the host; a parent that is missing is then missing in the host too. */
function installedIn({ tree, names, platform, shelves }: RehearsalRequest): readonly Installed[] {
  return installedOf(openChain(new Theme(platform, tree, names, names.id), shelves));
}
