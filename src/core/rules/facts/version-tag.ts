import semver from 'semver';
import { tagsOfCommit } from '../../facts/git-tags.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'write-or-move-tag': 'write {value}, or move the tag',
});

/** A commit that is tagged with another version than the theme states. */
export const versionTag: Rule = {
  meta: {
    id: 'version/tag',
    severity: 'warning',
    summary: 'The repository’s tag is another version',
    why: 'Whoever fetches the theme by its tag gets a theme that says it is another version, and is offered an update that it has.',
    messages: { differs: 'the version is {version}, and this commit is tagged {tag}' },
    example: { none: 'it is about the tags of a repository' },
  },
  *check({ theme }) {
    const fact = theme.fact('version');
    const version = theme.text('version');
    if (fact === undefined || version === undefined || semver.valid(version) === null || theme.tree.disk === undefined) return;
    const tags = tagsOfCommit(theme.tree.disk.root).filter((tag) => semver.valid(semver.clean(tag)) !== null);
    const [tag] = tags;
    if (tag === undefined || tags.some((each) => semver.clean(each) === version)) return;
    yield {
      message: 'differs',
      args: { version, tag },
      file: fact.document.path,
      source: fact.document.source,
      range: fact.node,
      hint: advise('write-or-move-tag', { value: semver.clean(tag) ?? tag }),
    };
  },
};
