import ignore from 'ignore';
import type { FileEntry } from '../files/file-tree.ts';
import { compareText } from '../files/file-tree.ts';
import { SelectedTree } from '../files/selected-tree.ts';
import { Theme } from '../theme/theme.ts';
import { matchesGlob, matchesAny } from '../files/glob.ts';
import { fillShape } from '../names/shape.ts';

/** What goes into a package, and what does not and why. Paths are from the theme's root. */
export interface PackageContents {
  readonly entries: readonly FileEntry[];
  readonly leftOut: readonly { readonly path: string; readonly reason: string }[];
}

/** Where it is noted which files were taken from a parent. */
export const OVERRIDES_FILE = 'pionero.overrides.yaml';

/** Files in a theme’s folder that are Pionero’s, not the theme’s. */
export const CONFIGURATION_NAMES: readonly string[] = ['pionero.yaml', OVERRIDES_FILE];

/** Decides what a theme's package holds. Patterns are in the syntax of ignore files. */
export function choosePackageContents(theme: Theme, excluded: readonly string[]): PackageContents {
  const contract = theme.platform.contract.package;
  const filters = [
    { patterns: contract['leave-out'], reason: `${theme.platform.contract.title} wants no such files in a package` },
    { patterns: excluded, reason: 'excluded by pionero.yaml' },
    { patterns: CONFIGURATION_NAMES, reason: 'belongs to Pionero' },
    { patterns: ownPackages(theme), reason: 'is a package of this theme' },
  ]
    .filter(({ patterns }) => patterns.length > 0)
    .map(({ patterns, reason }) => ({ matcher: ignore().add([...patterns]), reason }));
  const entries: FileEntry[] = [];
  const leftOut: { path: string; reason: string }[] = [];
  let leftOutFolder: string | undefined;
  for (const entry of theme.tree.entries) {
    if (leftOutFolder !== undefined && entry.path.startsWith(leftOutFolder)) continue;
    const shown = entry.kind === 'folder' ? `${entry.path}/` : entry.path;
    const filter = filters.find(({ matcher }) => matcher.ignores(shown));
    if (filter === undefined) {
      entries.push(entry);
      continue;
    }
    leftOut.push({ path: shown, reason: filter.reason });
    if (entry.kind === 'folder') leftOutFolder = shown;
  }
  const skipped = theme.tree.disk?.skipped ?? [];
  for (const path of skipped) leftOut.push({ path: `${path}/`, reason: 'belongs to a developer’s tools' });
  return { entries, leftOut: leftOut.sort((a, b) => compareText(a.path, b.path)) };
}

/** What packages of a theme are called, of whatever version, as patterns: one that was written into the theme's folder is not part of it. */
function ownPackages({ platform, names }: Theme): string[] {
  const { name, formats, forms } = platform.contract.package;
  return formats.map((format) => {
    const shape = `${forms[format]?.name ?? name}.${format}`;
    return shape
      .split('{version}')
      .map((part) => fillShape(part, names).replace(/[\\*?[\]!# ]/g, '\\$&'))
      .join('*');
  });
}

/** The problem with the contents of a submission: it lacks what it must hold, or holds what it must not. */
export type SubmissionProblem = { readonly kind: 'requires'; readonly glob: string } | { readonly kind: 'forbids'; readonly path: string };

/** Holds the contents of a package against what the platform asks of submissions. */
export function submissionProblems({ platform }: Theme, { entries }: Pick<PackageContents, 'entries'>): SubmissionProblem[] {
  const { requires, forbids } = platform.contract.package.submission;
  const paths = entries.flatMap(({ kind, path }) => (kind === 'folder' ? [] : [path]));
  return [
    ...requires.filter((glob) => !paths.some((path) => matchesGlob(path, glob))).map((glob) => ({ kind: 'requires', glob }) as const),
    ...paths.filter((path) => matchesAny(path, forbids)).map((path) => ({ kind: 'forbids', path }) as const),
  ];
}

/** A theme as its package will hold it: what is left out is not there. */
export function themeInPackage({ platform, tree, names, location }: Theme, { entries }: PackageContents): Theme {
  return new Theme(platform, new SelectedTree(tree, entries), names, location);
}
