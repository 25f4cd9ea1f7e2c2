import { isAbsolute, join, resolve } from 'node:path';
import { kindOnDisk, realPlace } from '../files/disk.ts';
import { folderOf, resolveInTree, type FileEntry } from '../files/file-tree.ts';
import { isWithin, pathFrom } from '../files/paths.ts';

/** The target of a link after a rename. */
interface RenamedLink {
  readonly target: string;
  /** Whether it led out of the theme, and is anchored again so that it still leads to the same. */
  readonly isAnchored: boolean;
}

/**
 * What links point at after a rename: within the theme they follow what moved; out of the theme they lead where they led
 * before, wherever the renamed theme lies.
 */
export class LinkAnchor {
  readonly #moves: ReadonlyMap<string, string>;
  readonly #from: string | undefined;
  readonly #to: string | undefined;
  readonly #real = new Map<string, string>();

  /** @param from where the tree lies @param to where the renamed one will; absolute, undefined for what lies on no disk */
  constructor(moves: ReadonlyMap<string, string>, from: string | undefined, to: string | undefined) {
    this.#moves = moves;
    this.#from = from;
    this.#to = to;
  }

  rename(link: FileEntry): RenamedLink {
    const target = link.target ?? '';
    const own = isAbsolute(target) ? undefined : resolveInTree(folderOf(link.path), target);
    if (own !== undefined) return { target: followed(target, this.#moves.get(own)), isAnchored: false };
    return this.#from === undefined || this.#to === undefined
      ? { target, isAnchored: false }
      : this.#anchor(link.path, target, this.#from, this.#to);
  }

  #anchor(path: string, target: string, from: string, to: string): RenamedLink {
    const led = resolve(this.#realPlace(join(from, folderOf(path))), target);
    const newFolder = this.#realPlace(join(to, folderOf(this.#moves.get(path) ?? path)));
    const source = this.#realPlace(from);
    // Out of the theme and back into it: its folder is called otherwise now.
    if (isWithin(led, source)) {
      const inside = pathFrom(source, led);
      const moved = join(to, this.#moves.get(inside) ?? inside);
      return { target: isAbsolute(target) ? moved : pathFrom(newFolder, moved), isAnchored: true };
    }
    if (isAbsolute(target) || resolve(newFolder, target) === led || kindOnDisk(led) === undefined) return { target, isAnchored: false };
    return { target: pathFrom(newFolder, led), isAnchored: true };
  }

  #realPlace(path: string): string {
    const known = this.#real.get(path) ?? realPlace(path);
    this.#real.set(path, known);
    return known;
  }
}

/** The tail of the target is the tail of the path it resolves to; `../` before it stays as written. */
function followed(target: string, moved: string | undefined): string {
  if (moved === undefined) return target;
  const climb = /^(?:\.{1,2}\/)*/.exec(target)?.[0] ?? '';
  const depth = target.slice(climb.length).split('/').length;
  return climb + moved.split('/').slice(-depth).join('/');
}
