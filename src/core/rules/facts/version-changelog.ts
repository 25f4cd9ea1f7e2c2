import semver from 'semver';
import { baseOf } from '../../files/file-tree.ts';
import { headOfChangelog } from '../../contents/changelog.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';
import { placeOfFact } from '../related.ts';

const advise = advices({
  'raise-version': 'raise the version to {head}',
  'continue-changelog': 'add {version} to {file}',
});

/** A version that is not the one at the head of the changelog. */
export const versionChangelog: Rule = {
  meta: {
    id: 'version/changelog',
    severity: 'warning',
    summary: 'The version is not the one at the head of the changelog',
    why: 'Either the version was not raised, and no host offers the update, or users read of changes that they do not get.',
    messages: { differs: 'the version is {version}, and the changelog begins with {head}', version: 'the version {version}' },
    example: {
      platform: 'vereda',
      wrong: { 'CHANGELOG.md': '# Changes\n\n## 9.1.0\n\n- A new door.\n' },
      right: { 'CHANGELOG.md': '# Changes\n\n## 0.1.0\n\n- A new door.\n' },
    },
  },
  *check({ theme }) {
    const fact = theme.fact('version');
    const version = theme.text('version');
    // The rule for its field reports a version of another form.
    if (version === undefined || semver.valid(version) === null) return;
    const news = headOfChangelog(theme);
    if (news === undefined || news.version === version || `${news.version}.0` === version) return;
    const { source, range, version: head } = news;
    // A changelog that is behind is continued: nobody lowers a version.
    const isBehind = semver.lt(semver.coerce(head) ?? '0.0.0', version);
    const hint = isBehind ? advise('continue-changelog', { version, file: baseOf(source.file) }) : advise('raise-version', { head });
    const related = fact === undefined ? [] : [{ message: 'version', args: { version }, ...placeOfFact(fact) }];
    yield {
      message: 'differs',
      args: { version, head },
      file: source.file,
      source,
      range,
      related,
      hint,
    };
  },
};
