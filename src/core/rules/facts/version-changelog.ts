import semver from 'semver';
import { baseOf } from '../../files/file-tree.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

const CHANGELOG = /^(?:changelog|changes|history|news|releases?)(?:\.(?:md|txt|rst))?$/i;
const HEAD = /^(?:#+\s*|=+\s*|)\[?v?(\d+\.\d+(?:\.\d+)?(?:-[\w.]+)?)\]?/gm;

/** A version that is not the one at the head of the changelog. */
export const versionChangelog: Rule = {
  meta: {
    id: 'version/changelog',
    severity: 'warning',
    summary: 'The version is not the one at the head of the changelog',
    why: 'Either the version was not raised, and no host offers the update, or users read of changes that they do not get.',
    messages: { differs: 'the version is {version}, and the changelog begins with {head}' },
    example: {
      platform: 'vereda',
      wrong: { 'CHANGELOG.md': '# Changes\n\n## 9.1.0\n\n- A new door.\n' },
      right: { 'CHANGELOG.md': '# Changes\n\n## 0.1.0\n\n- A new door.\n' },
    },
  },
  *check({ theme }) {
    const version = theme.text('version');
    const path = theme.tree.entries.find((entry) => entry.kind === 'file' && CHANGELOG.test(entry.path))?.path;
    // A version that is none is told of by the rule for its field.
    const source = path === undefined || semver.valid(version) === null ? undefined : theme.source(path);
    if (path === undefined || version === undefined || source === undefined) return;
    const [first] = source.text.matchAll(HEAD);
    const head = first?.[1];
    if (first === undefined || head === undefined || head === version || `${head}.0` === version) return;
    const start = first.index + first[0].indexOf(head);
    const hint = advise('raise-version', { head, version, file: baseOf(path) });
    yield { message: 'differs', args: { version, head }, file: path, source, range: { start, end: start + head.length }, hint };
  },
};
