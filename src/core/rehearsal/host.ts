import { promises as fs } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { guarded } from '../changes/guarded.ts';
import { realDiskWriter } from '../changes/disk-writer.ts';
import type { FileTree } from '../files/file-tree.ts';
import { DiskTree } from '../files/disk-tree.ts';
import { fillShape, type ThemeNames } from '../platform/shape.ts';
import { placeOnShelf, type Platform } from '../platform/platform.ts';
import { openChain, type Chain } from '../theme/chain.ts';
import { Shelves } from '../theme/shelf.ts';
import { Theme } from '../theme/theme.ts';

/** A theme to be installed: its files, and the names that its place in the host gives it. */
export interface Installation {
  readonly tree: FileTree;
  readonly names: ThemeNames;
}

/** A stand-in host in a temporary folder of its own, fresh for every rehearsal. */
export class StandInHost {
  readonly platform: Platform;
  readonly folder: string;

  private constructor(platform: Platform, folder: string) {
    this.platform = platform;
    this.folder = folder;
  }

  /** Makes an empty host, lets it be used, and removes it, whatever happens. */
  static async use<T>(platform: Platform, work: (host: StandInHost) => Promise<T>): Promise<T> {
    return guarded('the rehearsal', async () => {
      const folder = await fs.mkdtemp(join(tmpdir(), 'pionero-host-'));
      try {
        return await work(new StandInHost(platform, folder));
      } finally {
        await fs.rm(folder, { recursive: true, force: true });
      }
    });
  }

  /** Where a theme of these names lies in the host, from its root. */
  placeOf(names: ThemeNames): string {
    return fillShape(this.platform.contract.home, names);
  }

  /** Copies a theme to its place. Paths come from a file tree, which none can leave; links are made as they are. */
  async install({ tree, names }: Installation): Promise<void> {
    const home = join(this.folder, this.placeOf(names));
    await realDiskWriter.makeFolder(home, 0o755);
    for (const entry of tree.entries) {
      const path = join(home, entry.path);
      if (entry.kind === 'folder') await realDiskWriter.makeFolder(path, entry.mode);
      else if (entry.kind === 'link') await realDiskWriter.makeLink(path, entry.target ?? '');
      else await realDiskWriter.createFile(path, tree.read(entry.path), { mode: entry.mode | 0o400 });
    }
  }

  /** Opens an installed theme as the host sees it: with nothing around it but what is installed. */
  open(names: ThemeNames): { theme: Theme; chain: Chain; shelves: Shelves } {
    const shelf = join(this.folder, this.platform.contract.home.slice(0, -placeOnShelf(this.platform).length));
    const shelves = new Shelves(this.platform, [shelf]);
    const place = this.placeOf(names);
    const theme = new Theme(this.platform, new DiskTree(join(this.folder, place)), names, place);
    return { theme, chain: openChain(theme, shelves), shelves };
  }
}
