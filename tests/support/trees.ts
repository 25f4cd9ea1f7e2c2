import { lstatSync, mkdirSync, readdirSync, readFileSync, readlinkSync, writeFileSync } from 'node:fs';
import { dirname, join, sep } from 'node:path';
import { MemoryTree } from '../../src/core/files/memory-tree.ts';
import type { FileTree } from '../../src/core/files/file-tree.ts';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import type { Platform } from '../../src/core/platform/platform.ts';
import { chooseKit } from '../../src/core/scaffold/kits.ts';
import { planNewTheme } from '../../src/core/scaffold/new-theme.ts';
import { openChain } from '../../src/core/theme/chain.ts';
import { Shelves } from '../../src/core/theme/shelf.ts';
import { Theme } from '../../src/core/theme/theme.ts';

/** Everything below a folder: paths, kinds, modes and contents, to be compared whole. */
export function snapshot(folder: string): Record<string, string> {
  const found: Record<string, string> = {};
  for (const path of readdirSync(folder, { recursive: true }) as string[]) {
    const full = join(folder, path);
    const stat = lstatSync(full);
    const mode = (stat.mode & 0o777).toString(8);
    found[path.replaceAll(sep, '/')] = stat.isDirectory()
      ? `folder ${mode}`
      : stat.isSymbolicLink()
        ? `-> ${readlinkSync(full)}`
        : `${mode} ${readFileSync(full, 'latin1')}`;
  }
  return found;
}

/** A folder that something is made in: a workplace of a test, or one of a picture. */
export interface Place {
  readonly folder: string;
  path(...parts: string[]): string;
}

export function writeFiles(folder: string, files: Readonly<Record<string, string | Buffer>>): void {
  for (const [path, content] of Object.entries(files)) {
    mkdirSync(dirname(join(folder, path)), { recursive: true });
    writeFileSync(join(folder, path), content);
  }
}

export function platformNamed(name: string): Platform {
  const platform = shippedPlatforms().find((each) => each.contract.name === name);
  if (platform === undefined) throw new Error(`no platform ${name}`);
  return platform;
}

/** Shelves that hold themes in memory. */
class MemoryShelves extends Shelves {
  readonly #themes: readonly Theme[];
  constructor(platform: Platform, themes: readonly Theme[]) {
    super(platform, ['/shelf']);
    this.#themes = themes;
  }
  override list() {
    return this.#themes.map((theme) => ({ names: theme.names, folder: `/shelf/${theme.names.id}` }));
  }
  override open({ names }: { names: { id: string } }): Theme {
    const theme = this.#themes.find((each) => each.names.id === names.id);
    if (theme === undefined) throw new Error(`no ${names.id}`);
    return theme;
  }
}

const plannedKits = new Map<string, Readonly<Record<string, Buffer>>>();

/** The files of a theme that is new from a kit of a platform, its first one when none is named, by path. */
export function kitFiles(platform: Platform, id: string, kit?: string): Record<string, Buffer> {
  const key = [platform.file, id, kit].join(' ');
  const known = plannedKits.get(key) ?? planKit(platform, id, kit);
  plannedKits.set(key, known);
  return { ...known };
}

function planKit(platform: Platform, id: string, named: string | undefined): Readonly<Record<string, Buffer>> {
  const kit = chooseKit({ platform }, named, false);
  const vendor = platform.contract.vendor === undefined ? undefined : 'HutLeague';
  const { theme } = planNewTheme({ platform, kit, id, vendor, facts: {}, shelves: new Shelves(platform, []), into: '/nowhere' });
  return Object.fromEntries(
    theme.tree.entries.flatMap((entry) => (entry.kind === 'file' ? [[entry.path, theme.tree.read(entry.path)]] : [])),
  );
}

export function themeOf(platform: Platform, id: string, files: FileTree | Readonly<Record<string, string | Buffer>>): Theme {
  const tree = 'entries' in files && Array.isArray(files.entries) ? (files as FileTree) : MemoryTree.of(files as Record<string, string>);
  return new Theme(platform, tree, { id }, id);
}

export function onShelf(theme: Theme, siblings: readonly Theme[] = []) {
  const shelves = new MemoryShelves(theme.platform, [theme, ...siblings]);
  return { theme, shelves, chain: openChain(theme, shelves) };
}
