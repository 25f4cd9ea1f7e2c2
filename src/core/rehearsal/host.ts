import { homeOfShelves, isOneFile, treeAtPlace } from '../theme/place.ts';
import { randomBytes } from 'node:crypto';
import { temporaryFolder } from '../files/disk.ts';
import { dirname, join } from 'node:path';
import { buildTree } from '../changes/carry-out.ts';
import type { ApplyOptions } from '../changes/apply.ts';
import { withTemporary } from '../changes/temporary.ts';
import { guarded } from '../changes/guarded.ts';
import { copyOperations } from '../changes/plan.ts';
import type { DiskWriter } from '../changes/disk-writer.ts';
import { type Platform } from '../platform/platform.ts';
import { openChain, type Chain } from '../theme/chain.ts';
import { Shelves } from '../theme/shelf.ts';
import { Theme } from '../theme/theme.ts';
import type { ThemeNames } from '../names/full-name.ts';
import { type Installed, homeOf } from '../theme/layout.ts';

/** A stand-in host in a temporary folder of its own, fresh for every rehearsal. */
export class StandInHost {
  readonly platform: Platform;
  readonly folder: string;
  readonly #writer: DiskWriter;

  private constructor(platform: Platform, folder: string, writer: DiskWriter) {
    this.#writer = writer;
    this.platform = platform;
    this.folder = folder;
  }

  /** Makes an empty host, lets it be used, and removes it, whatever happens. */
  static async use<T>(platform: Platform, { journal }: ApplyOptions, work: (host: StandInHost) => Promise<T>): Promise<T> {
    return guarded('the rehearsal', async () => {
      const folder = join(temporaryFolder(), `pionero-host-${randomBytes(8).toString('hex')}`);
      return withTemporary(journal, folder, async () => {
        // Not recursively: in a folder that everybody may write, someone else could have made it.
        await journal.writer.makePrivateFolder(folder);
        return work(new StandInHost(platform, folder, journal.writer));
      });
    });
  }

  /** Copies a theme to its place. A theme that may not be read by its owner can be read in the host. */
  async install({ theme: { tree }, home: place }: Installed, signal?: AbortSignal): Promise<void> {
    const home = join(this.folder, isOneFile(this.platform) ? dirname(place) : place);
    await this.#writer.makeFolder(home, 0o755);
    const operations = copyOperations(tree).map((operation) =>
      operation.op === 'create' ? { ...operation, mode: operation.mode | 0o400 } : operation,
    );
    await buildTree(operations, home, this.#writer, { signal });
  }

  /** Opens an installed theme as the host sees it: with nothing around it but what is installed. */
  open(names: ThemeNames): { theme: Theme; chain: Chain; shelves: Shelves } {
    const shelf = join(this.folder, homeOfShelves(this.platform));
    const shelves = new Shelves(this.platform, [shelf]);
    const place = homeOf(this.platform, names);
    const theme = new Theme(this.platform, treeAtPlace(this.platform, join(this.folder, place)), names, place);
    return { theme, chain: openChain(theme, shelves), shelves };
  }
}
