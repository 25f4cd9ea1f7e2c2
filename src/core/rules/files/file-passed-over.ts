import { baseOf, folderOf, followLinks } from '../../files/file-tree.ts';
import { isGlob, matchesAny, pathsOfGlob } from '../../files/glob.ts';
import { foldedPath } from '../../files/portable-names.ts';
import { fillShape } from '../../names/shape.ts';
import type { Chain } from '../../theme/chain.ts';
import { isSlip } from '../../text/nearest.ts';
import type { Theme } from '../../theme/theme.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Files at nearly the path that the host looks for, in another case or a misspelled folder: it takes the parent’s, or none. */
export const filePassedOver: Rule = {
  meta: {
    id: 'file/passed-over',
    severity: 'warning',
    isSeen: true,
    summary: 'A file lies at nearly the path that the host looks for',
    why: 'The host ignores a file with any other name, capitals included, and nothing says why the file has no effect.',
    messages: {
      expected: 'the host looks for {wanted}, and ignores {path}: they differ by case only',
      folder: 'the host looks for {wanted}, and ignores {path}: its folder has another name',
      inherited: 'the host takes {wanted} of {of}, and ignores {path}: they differ by case only',
    },
    example: {
      platform: 'vereda',
      wrong: { 'pages/List.html': '{{#entries}}<p>{{title}}</p>{{/entries}}\n' },
      right: { 'pages/list.html': '{{#entries}}<p>{{title}}</p>{{/entries}}\n' },
    },
  },
  *check({ theme, chain }) {
    const own = theme.tree.entries.flatMap(({ kind, path }) => (kind === 'folder' ? [] : [path]));
    const byCase = new Map(own.map((path) => [foldedPath(path), path]));
    const names = new Set(own.map(baseOf));
    const folders = new Set<string>();
    const inherited = inheritedPaths(chain, (path) => {
      folders.add(folderOf(path));
      return byCase.has(foldedPath(path)) || names.has(baseOf(path));
    });
    const wanted = [...expectedPaths(theme), ...inherited];
    for (const { path } of wanted) folders.add(folderOf(path));
    // A folder that the theme itself names has the name that it is to have.
    const named = new Set(
      theme.facts.flatMap(({ value }) => (typeof value === 'string' ? [value] : Object.values(value ?? {}).map(String))),
    );
    const strays = own.filter((path) => !folders.has(folderOf(path)) && !named.has(folderOf(path)));
    const told = new Set<string>();
    for (const { path: right, of } of wanted) {
      const inCase = byCase.get(foldedPath(right));
      const path = inCase ?? strays.find((each) => baseOf(each) === baseOf(right) && isSlip(folderOf(each), folderOf(right)));
      if (path === undefined || path === right || told.has(path) || followLinks(theme.tree, right) !== undefined) continue;
      told.add(path);
      yield {
        message: inCase === undefined ? 'folder' : of === undefined ? 'expected' : 'inherited',
        args: { path, wanted: right, of: of ?? '' },
        file: path,
        hint: advise('rename', { from: path, to: right }),
      };
    }
  },
};

/** The files that the platform names, unless their absence is a finding of its own. */
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

/** The files that the theme takes from those that it builds on, nearest first, of the paths that are looked for. */
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
    (brought[of] ?? []).flatMap(pathsOfGlob).flatMap((path) => (isLookedFor(path) ? [{ path, of }] : [])),
  );
  return [...ofThemes, ...ofHost].filter(({ path }) => matchesAny(path, inherits));
}
