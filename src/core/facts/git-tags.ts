import { join, resolve } from 'node:path';
import { inflateSync } from 'node:zlib';
import { filesOf, kindOnDisk, readIfThere, subfoldersOf } from '../files/disk.ts';

/**
 * Names of the tags of the commit that is checked out in a folder, from its Git folder (gitrepository-layout(5)); none
 * without one. Annotated tags are followed to their commit, unless they lie in a pack and no list says where they lead.
 */
export function tagsOfCommit(folder: string): string[] {
  const git = gitFolder(join(folder, '.git'));
  if (git === undefined) return [];
  const read = (path: string): string | undefined => readIfThere(join(git.shared, path))?.toString('utf8').trim();
  const packed = (read('packed-refs') ?? '').split('\n');
  const head = readIfThere(join(git.own, 'HEAD'))?.toString('utf8').trim();
  const branch = head?.startsWith('ref: ') === true ? head.slice(5) : undefined;
  const commit = branch === undefined ? head : (read(branch) ?? packed.find((line) => line.endsWith(` ${branch}`))?.split(' ')[0]);
  if (commit === undefined || commit === '') return [];
  const listed = packed.flatMap((line, i) => {
    const [, hash, tag] = /^([0-9a-f]{40,64}) refs\/tags\/(.+)$/.exec(line) ?? [];
    const peeled = /^\^([0-9a-f]{40,64})$/.exec(packed[i + 1] ?? '')?.[1];
    return tag !== undefined && (peeled ?? hash) === commit ? [tag] : [];
  });
  const loose = filesBelow(join(git.shared, 'refs', 'tags')).filter((tag) => peel(git.shared, read(`refs/tags/${tag}`)) === commit);
  return [...new Set([...loose, ...listed])];
}

/** A Git folder, or what the file in its place in a worktree or submodule leads to; `shared` has the tags. */
function gitFolder(path: string): { own: string; shared: string } | undefined {
  const kind = kindOnDisk(path);
  const target = kind === 'file' ? /^gitdir: (.+)$/m.exec(readIfThere(path)?.toString('utf8') ?? '')?.[1] : undefined;
  const own = kind === 'folder' ? path : target === undefined ? undefined : resolve(path, '..', target);
  if (own === undefined) return undefined;
  const shared = readIfThere(join(own, 'commondir'))?.toString('utf8').trim();
  return { own, shared: shared === undefined ? own : resolve(own, shared) };
}

/** Paths of the files below a folder: tags can have slashes. */
function filesBelow(folder: string): string[] {
  return [...filesOf(folder), ...subfoldersOf(folder).flatMap((name) => filesBelow(join(folder, name)).map((file) => `${name}/${file}`))];
}

/** The commit that a tag leads to: itself, or what the tag object says that it tags. */
function peel(shared: string, hash: string | undefined): string | undefined {
  if (hash === undefined || !/^[0-9a-f]{40,64}$/.test(hash)) return undefined;
  const bytes = readIfThere(join(shared, 'objects', hash.slice(0, 2), hash.slice(2)));
  const target = bytes === undefined ? undefined : /^tag \d+\0object ([0-9a-f]{40,64})\n/.exec(inflated(bytes))?.[1];
  return target === undefined ? hash : peel(shared, target);
}

function inflated(bytes: Buffer): string {
  try {
    return inflateSync(bytes).toString('latin1');
  } catch {
    return '';
  }
}
