import { randomBytes } from 'node:crypto';
import { cp, lstat, mkdir, realpath, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Journal } from '../changes/journal.ts';
import { withTemporary } from '../changes/temporary.ts';
import { temporaryFolder } from '../files/disk.ts';
import { DiskTree } from '../files/disk-tree.ts';
import { matchesAny } from '../files/glob.ts';

/** More than this of what a site’s command prints, or logs, is not kept. */
export const MAX_OUTPUT = 1 << 20;

/** A copy of a site, thrown away after use. Paths are absolute. */
export interface SiteCopy {
  readonly site: string;
  /** A folder for what a command makes. */
  readonly out: string;
  /** A home folder with nothing in it. */
  readonly home: string;
}

/** Copies a site’s folder to a temporary place, lets it be used, and removes it, whatever happens. */
export async function withSiteCopy<T>(
  folder: string,
  journal: Pick<Journal, 'temporaries' | 'writer'>,
  work: (copy: SiteCopy) => Promise<T>,
): Promise<T> {
  const root = join(temporaryFolder(), `pionero-site-${randomBytes(8).toString('hex')}`);
  return withTemporary(journal, root, async () => {
    const copy = { site: join(root, 'site'), out: join(root, 'out'), home: join(root, 'home') };
    await mkdir(root, { mode: 0o700 });
    await cp(folder, copy.site, { recursive: true, verbatimSymlinks: true });
    await mkdir(copy.home);
    return work(copy);
  });
}

/**
 * Clears a place in the copy, and lets it be written: a folder above it that is a link, to the user's own files perhaps, becomes a copy of them.
 * @param place the place, from the copy's folder
 */
export async function openPlace({ site }: SiteCopy, place: string): Promise<void> {
  let at = site;
  for (const part of place.split('/').slice(0, -1)) {
    at = join(at, part);
    const kind = await lstat(at).catch(() => undefined);
    if (kind?.isSymbolicLink() !== true) continue;
    const target = await realpath(at).catch(() => undefined);
    await rm(at);
    // One that leads nowhere has nothing to copy.
    if (target !== undefined) await cp(target, at, { recursive: true, verbatimSymlinks: true });
  }
  await rm(join(site, place), { recursive: true, force: true });
}

/** The contents of matching files of the copy, each by its path; to be asked again later, for what came in between. */
export class Logs {
  readonly #site: string;
  readonly #globs: readonly string[];
  readonly #lengths: ReadonlyMap<string, number>;

  constructor({ site }: SiteCopy, globs: readonly string[]) {
    this.#site = site;
    this.#globs = globs;
    this.#lengths = new Map(this.#read().map(([path, text]) => [path, text.length]));
  }

  #read(): [path: string, text: string][] {
    if (this.#globs.length === 0) return [];
    const tree = new DiskTree(this.#site);
    const paths = tree.entries.filter(({ path, kind }) => kind === 'file' && matchesAny(path, this.#globs)).map(({ path }) => path);
    return paths.map((path) => [path, tree.read(path).toString('utf8')]);
  }

  /** The host's output since then, at most so much as is kept of it. */
  added(): string {
    return this.#read()
      .map(([path, text]) => text.slice(this.#lengths.get(path) ?? 0))
      .join('\n')
      .slice(0, MAX_OUTPUT);
  }
}
