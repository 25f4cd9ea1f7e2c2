import { placeOnDisk } from '../files/disk.ts';
import { displayPath } from '../files/paths.ts';
import { platformsIn, shippedPlatforms } from '../platform/load.ts';
import type { Platform } from '../platform/platform.ts';
import { openThemeArchive } from './open-archive.ts';
import { openThemeFolder, type OpenedTheme } from './open.ts';
import type { Shelves } from './shelf.ts';

/** Themes to be opened, and how. Plain data: it can be sent to another thread. */
export interface FoldersToOpen {
  /** Where relative paths start; absolute. */
  readonly currentFolder: string;
  readonly folders: readonly string[];
  /** Those of them that are archives, and no folders. */
  readonly archives?: readonly string[] | undefined;
  /** A platform's name or file; told from each theme's files when left out. */
  readonly platform: string | undefined;
  /** The platform of the workspace around: see {@link OpenOptions.preferred}. */
  readonly preferred?: string | undefined;
  readonly shelves: readonly string[];
  /** The folder of the user's own platform files. */
  readonly platformFolder?: string | undefined;
  /** The run that this is a part of: parts share what they know of shelves. */
  readonly run?: string | undefined;
}

/** A theme to be opened: where it lies, absolute, and what opens it. */
export interface ThemeToOpen {
  readonly path: string;
  /** @throws PioneroError when it cannot be opened */
  readonly open: () => Promise<OpenedTheme>;
}

/** The themes one after another; they share what they know of shelves. */
export function* themesToOpen(input: FoldersToOpen): Generator<ThemeToOpen> {
  const { currentFolder, platform, preferred, shelves, platformFolder } = input;
  const archives = new Set(input.archives);
  let all: readonly Platform[] | undefined;
  const platforms = () =>
    (all ??= [...shippedPlatforms(), ...(platformFolder === undefined ? [] : platformsIn(platformFolder, platformFolder))]);
  const options = { currentFolder, platform, preferred, shelves, platforms, known: shelvesKnownTo(input.run), isLenient: true };
  for (const folder of input.folders) {
    const path = placeOnDisk(currentFolder, folder);
    const shown = displayPath(path, currentFolder);
    yield { path, open: async () => (archives.has(folder) ? openThemeArchive(shown, options) : openThemeFolder(shown, options)) };
  }
}

/** The shelves that the last run looked through. */
let last: { readonly run: string; readonly known: Map<string, Shelves> } | undefined;

function shelvesKnownTo(run: string | undefined): Map<string, Shelves> {
  if (run === undefined) return new Map();
  if (last?.run !== run) last = { run, known: new Map() };
  return last.known;
}
