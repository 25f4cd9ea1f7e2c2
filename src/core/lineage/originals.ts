import { join } from 'node:path';
import { inflateRawSync } from 'node:zlib';
import { formatOfName } from '../archives/archive-format.ts';
import { sha256 } from '../changes/stamps.ts';
import { PioneroError } from '../errors.ts';
import { contentsInHistory, ifHistoryTells, repositoryOf } from '../files/disk-git.ts';
import { filesOf, kindOnDisk } from '../files/disk.ts';
import { openThemeArchive } from '../theme/open-archive.ts';
import type { OpenOptions } from '../theme/open.ts';
import type { TakenFile } from '../contents/taken-schema.ts';
import type { Theme } from '../theme/theme.ts';

/** Kept originals are of texts and small pictures; what grows beyond this is a mistake, or an attack. */
const MOST_KEPT = 4 * 1024 * 1024;

/** Where the bytes of an original were found, for people. */
export interface FoundOriginal {
  readonly bytes: Buffer;
  readonly where: string;
}

/** Finds the bytes of what was taken from parents: in the record, in archives of the parents, in the history of their repositories. */
export class Originals {
  readonly #options: OpenOptions;
  readonly #folders: readonly string[];
  readonly #archives = new Map<string, Theme | undefined>();

  /** @param folders where archives of parents may lie, besides the parents’ own places; absolute */
  constructor(options: OpenOptions, folders: readonly string[]) {
    this.#options = options;
    this.#folders = folders;
  }

  /** @returns undefined when nobody keeps them any more */
  async find(record: TakenFile, parent: Theme | undefined): Promise<FoundOriginal | undefined> {
    const kept = keptIn(record);
    if (kept !== undefined) return { bytes: kept, where: 'the record' };
    return (await this.#inArchives(record, parent)) ?? inHistory(record, parent);
  }

  async #inArchives({ theme: id, from, sha256: wanted }: TakenFile, parent: Theme | undefined): Promise<FoundOriginal | undefined> {
    for (const folder of this.#around(parent)) {
      for (const file of filesOf(folder).filter((name) => formatOfName(name) !== undefined && name.includes(id))) {
        const theme = await this.#open(join(folder, file), parent);
        const bytes = theme?.names.id === id && theme.tree.get(from)?.kind === 'file' ? theme.tree.read(from) : undefined;
        if (bytes !== undefined && sha256(bytes) === wanted) return { bytes, where: file };
      }
    }
    return undefined;
  }

  #around(parent: Theme | undefined): string[] {
    const root = parent?.tree.disk?.root;
    const own = root === undefined ? [] : [root, join(root, '..'), join(root, '../..')];
    const all = [...this.#folders, ...own].flatMap((folder) => [folder, join(folder, 'dist')]);
    return [...new Set(all)].filter((folder) => kindOnDisk(folder) === 'folder');
  }

  async #open(file: string, parent: Theme | undefined): Promise<Theme | undefined> {
    if (this.#archives.has(file)) return this.#archives.get(file);
    let theme: Theme | undefined;
    try {
      const platform = this.#options.platform ?? parent?.platform.path ?? parent?.platform.contract.name;
      ({ theme } = await openThemeArchive(file, { ...this.#options, platform }));
    } catch (error) {
      // One that is damaged, or holds no theme, keeps nothing for us.
      if (!(error instanceof PioneroError)) throw error;
    }
    this.#archives.set(file, theme);
    return theme;
  }
}

/** The copy that the record keeps itself; undefined when its digest is wrong. */
export function keptIn({ original, sha256: wanted }: TakenFile): Buffer | undefined {
  if (original === undefined) return undefined;
  try {
    const bytes = inflateRawSync(Buffer.from(original, 'base64'), { maxOutputLength: MOST_KEPT });
    return sha256(bytes) === wanted ? bytes : undefined;
  } catch {
    return undefined;
  }
}

function inHistory({ from, sha256: wanted }: TakenFile, parent: Theme | undefined): FoundOriginal | undefined {
  const root = parent?.tree.disk?.root;
  if (root === undefined) return undefined;
  return ifHistoryTells(() => {
    const { root: repository, place } = repositoryOf(root);
    const path = place === '' ? from : `${place}/${from}`;
    const found = contentsInHistory(repository, path).find(({ bytes }) => sha256(bytes) === wanted);
    return found === undefined ? undefined : { bytes: found.bytes, where: `commit ${found.commit.slice(0, 10)}` };
  });
}
