import { join } from 'node:path';
import semver from 'semver';
import { DiskTree } from '../../files/disk-tree.ts';
import { readIfThere } from '../../files/disk.ts';
import type { Rule } from '../rule.ts';

/** A commit that is tagged with another version than the theme states. */
export const versionTag: Rule = {
  meta: {
    id: 'version/tag',
    severity: 'warning',
    summary: 'The repository’s tag is another version',
    why: 'Whoever fetches the theme by its tag gets a theme that says it is another version, and is offered an update that it has.',
    messages: { differs: 'the version is {version}, and this commit is tagged {tag}' },
  },
  *check({ theme }) {
    const fact = theme.fact('version');
    const version = theme.text('version');
    if (fact === undefined || version === undefined || semver.valid(version) === null || !(theme.tree instanceof DiskTree)) return;
    const tags = tagsOfCommit(join(theme.tree.root, '.git')).filter((tag) => semver.valid(semver.clean(tag)) !== null);
    const [tag] = tags;
    if (tag === undefined || tags.some((each) => semver.clean(each) === version)) return;
    yield {
      message: 'differs',
      args: { version, tag },
      file: fact.document.path,
      source: fact.document.source,
      range: fact.node,
      hint: `write ${semver.clean(tag)}, or move the tag`,
    };
  },
};

/** Names of the tags of the commit that is checked out, from a Git folder (gitrepository-layout). Annotated tags are peeled. */
function tagsOfCommit(folder: string): string[] {
  const read = (path: string): string | undefined => readIfThere(join(folder, path))?.toString('utf8').trim();
  const packed = (read('packed-refs') ?? '').split('\n');
  const head = read('HEAD');
  const branch = head?.startsWith('ref: ') === true ? head.slice(5) : undefined;
  const commit = branch === undefined ? head : (read(branch) ?? packed.find((line) => line.endsWith(` ${branch}`))?.split(' ')[0]);
  if (commit === undefined || commit === '') return [];
  return packed.flatMap((line, i) => {
    const [, hash, tag] = /^([0-9a-f]{40,64}) refs\/tags\/(.+)$/.exec(line) ?? [];
    const peeled = /^\^([0-9a-f]{40,64})$/.exec(packed[i + 1] ?? '')?.[1];
    return tag !== undefined && (peeled ?? hash) === commit ? [tag] : [];
  });
}
