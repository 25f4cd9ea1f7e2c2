import { followLinks } from '../../files/file-tree.ts';
import { isGlob, matchesAny } from '../../files/glob.ts';
import { foldedPath } from '../../files/portable-names.ts';
import { fillShape } from '../../names/shape.ts';
import type { Chain } from '../../theme/chain.ts';
import type { Theme } from '../../theme/theme.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Files whose paths differ only by case from one that the host looks for: it takes the parent’s, or none. */
export const fileOtherCase: Rule = {
  meta: {
    id: 'file/other-case',
    severity: 'warning',
    isSeen: true,
    summary: 'A file differs only by case from one that the host looks for',
    why: 'Servers tell capitals from small letters: the host passes the file over, and nothing says why it has no effect.',
    messages: {
      expected: 'the host looks for {wanted}, and passes {path} over: they differ by case only',
      inherited: 'the host takes {wanted} of {of}, and passes {path} over: they differ by case only',
    },
    example: {
      platform: 'vereda',
      wrong: { 'pages/List.html': '{{#entries}}<p>{{title}}</p>{{/entries}}\n' },
      right: { 'pages/list.html': '{{#entries}}<p>{{title}}</p>{{/entries}}\n' },
    },
  },
  *check({ theme, chain }) {
    const own = new Map(theme.tree.entries.flatMap(({ kind, path }) => (kind === 'folder' ? [] : [[foldedPath(path), path] as const])));
    const told = new Set<string>();
    for (const { path: wanted, of } of [...expectedPaths(theme), ...inheritedPaths(chain, (path) => own.has(foldedPath(path)))]) {
      const path = own.get(foldedPath(wanted));
      if (path === undefined || path === wanted || told.has(path) || followLinks(theme.tree, wanted) !== undefined) continue;
      told.add(path);
      yield {
        message: of === undefined ? 'expected' : 'inherited',
        args: { path, wanted, of: of ?? '' },
        file: path,
        hint: advise('rename', { from: path, to: wanted }),
      };
    }
  },
};

/** What the platform names, unless its absence is a finding of its own. */
function expectedPaths({ platform: { contract }, names, isChild }: Theme): { path: string; of?: string }[] {
  const documents = contract.documents.filter(({ required }) => required === 'no').map(({ path }) => path);
  const files = contract.files.filter(({ required, forbidden }) => required === 'no' && !forbidden).map(({ path }) => path);
  const roles = Object.values(contract.templates?.roles ?? {}).map(({ file }) => file);
  const images = contract.images.map(({ path }) => path);
  const required = contract.files.filter(({ required: need }) => need !== 'no' && (need !== 'standalone' || !isChild));
  const told = new Set(required.map(({ path }) => path));
  return [...documents, ...files, ...roles, ...images]
    .filter((path) => !told.has(path))
    .map((path) => fillShape(path, names))
    .filter((path) => !isGlob(path))
    .map((path) => ({ path }));
}

/** What the theme takes from those that it builds on, nearest first, of the paths that are looked for. */
function inheritedPaths({ themes, commons }: Chain, isLookedFor: (path: string) => boolean): { path: string; of: string }[] {
  const [theme, ...parents] = themes;
  const { inherits = [], 'built-in-files': brought = {} } = theme?.platform.contract.inheritance ?? {};
  const ofThemes = parents.flatMap((parent) =>
    commons.has(parent)
      ? []
      : parent.tree.entries.flatMap(({ kind, path }) => (kind !== 'folder' && isLookedFor(path) ? [{ path, of: parent.names.id }] : [])),
  );
  const ancestors = [...new Set(themes.flatMap(({ ancestors: ids }) => ids))];
  const ofHost = ancestors.flatMap((of) =>
    (brought[of] ?? []).flatMap((path) => (!isGlob(path) && isLookedFor(path) ? [{ path, of }] : [])),
  );
  return [...ofThemes, ...ofHost].filter(({ path }) => matchesAny(path, inherits));
}
