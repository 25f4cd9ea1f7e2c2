import { folderOf, type FileEntry, type FileTree } from '../files/file-tree.ts';
import { SelectedTree } from '../files/selected-tree.ts';

/** A tree that lists one file and the folders above it, and has all the others where they are asked for by their paths. */
export class FocusTree extends SelectedTree {
  readonly disk: FileTree['disk'];
  readonly whole: FileTree;

  constructor(tree: FileTree, path: string) {
    const places = [path];
    for (let at = folderOf(path); at !== ''; at = folderOf(at)) places.push(at);
    super(
      tree,
      places.toReversed().flatMap((each) => tree.get(each) ?? []),
    );
    this.disk = tree.disk;
    this.whole = tree;
  }

  override get(path: string): FileEntry | undefined {
    return this.whole.get(path);
  }
}
