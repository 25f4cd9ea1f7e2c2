import { PioneroError } from '../errors.ts';
import { platformsIn, shippedPlatforms } from '../platform/load.ts';
import { openThemeFolder, type OpenedTheme } from '../theme/open.ts';
import type { Shelves } from '../theme/shelf.ts';
import { plainFacts } from '../theme/plain-facts.ts';
import { checkOptionsOf, checkTheme, type CheckOptions, type CheckResult } from './check.ts';
import { basisOf, type CheckBasis } from './check-basis.ts';

/** Themes to be checked, and how. Plain data: it can be sent to another thread. */
export interface FoldersToCheck {
  /** Where relative paths start; absolute. */
  readonly currentFolder: string;
  readonly folders: readonly string[];
  /** A platform's name or file; told from each theme's files when left out. */
  readonly platform: string | undefined;
  readonly shelves: readonly string[];
  /** The folder of the user's own platform files. */
  readonly platformFolder: string;
  readonly purpose: CheckOptions['purpose'];
}

/** What `check` has to say of one theme, as plain data. */
export interface CheckedFolder {
  readonly folder: string;
  readonly id: string;
  readonly platform: { readonly name: string; readonly title: string };
  readonly facts: Readonly<Record<string, unknown>>;
  readonly reasons: readonly string[];
  readonly result: CheckResult;
  readonly basis: CheckBasis;
}

/** Checks themes one after another; stops quietly at one that cannot be opened, which whoever asked will find out. */
export function checkFolders(input: FoldersToCheck, tell: (done: number) => void = () => {}): CheckedFolder[] {
  const checked: CheckedFolder[] = [];
  const known = new Map<string, Shelves>();
  for (const folder of input.folders) {
    try {
      checked.push(checkOpened(openThemeFolder(folder, { ...openOptions(input), known }), input.purpose));
      tell(checked.length);
    } catch (error) {
      if (error instanceof PioneroError) break;
      throw error;
    }
  }
  return checked;
}

export function checkOpened(
  { theme, chain, shelves, configuration, reasons, folder }: OpenedTheme,
  purpose: CheckOptions['purpose'],
): CheckedFolder {
  const { name, title } = theme.platform.contract;
  const basis = basisOf(chain, shelves, configuration);
  const result = checkTheme(theme, chain, shelves, checkOptionsOf(configuration, purpose));
  return { folder, id: theme.names.id, platform: { name, title }, facts: plainFacts(theme), reasons, result, basis };
}

function openOptions({ currentFolder, platform, shelves, platformFolder }: FoldersToCheck) {
  return { currentFolder, platform, shelves, platforms: () => [...shippedPlatforms(), ...platformsIn(platformFolder, platformFolder)] };
}
