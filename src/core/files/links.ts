import { folderOf, type FileEntry, type FileTree, isRooted } from './file-tree.ts';

/** As many links as Linux follows before it says that they form a circle (path_resolution(7)). */
const MAX_HOPS = 40;

/**
 * The first link of a tree that leads out of it when the *system* follows it: part by part, through other links. What its
 * text says alone is not enough: `l → sub/x/../..` stays inside as text and leaves when `sub/x` is a link.
 */
export function findLeavingLink(tree: FileTree): FileEntry | undefined {
  return tree.entries.find((entry) => entry.kind === 'link' && isLeaving(tree, entry));
}

function isLeaving(tree: FileTree, link: FileEntry): boolean {
  const at: string[] = folderOf(link.path).split('/').filter(Boolean);
  const ahead = partsOf(link.target);
  for (let hops = 1; ahead.length > 0;) {
    const part = ahead.pop();
    if (part === '..') {
      if (at.pop() === undefined) return true;
      continue;
    }
    if (part === '/') return true;
    if (part === undefined || part === '' || part === '.') continue;
    const entry = tree.get([...at, part].join('/'));
    if (entry?.kind !== 'link') {
      at.push(part);
      continue;
    }
    // A circle leads nowhere: the system refuses to follow it.
    if (++hops > MAX_HOPS) return false;
    ahead.push(...partsOf(entry.target));
  }
  return false;
}

/** The parts of a link's target, the first one last; an absolute one begins with `/`. */
function partsOf(target = ''): string[] {
  const parts = target.split('/').toReversed();
  return isRooted(target) ? [...parts, '/'] : parts;
}
