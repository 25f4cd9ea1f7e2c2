import { planBetween } from '../changes/plan-between.ts';
import type { ChangePlan } from '../changes/plan.ts';
import { sha256 } from '../changes/stamps.ts';
import { RefusedError, UsageError } from '../errors.ts';
import { withoutFile } from '../files/changed-tree.ts';
import type { FileTree } from '../files/file-tree.ts';
import { fileToTake } from '../rules/advice.ts';
import { checkOptionsOf, type Finding } from '../rules/engine/check.ts';
import { errorsBrought } from '../rules/engine/errors-brought.ts';
import { takeWithNeeds, type Need, type NeedAnswer } from '../scaffold/needs.ts';
import type { TakingNote } from '../scaffold/take.ts';
import { nearest } from '../text/nearest.ts';
import { findInChain, type Chain } from '../theme/chain.ts';
import type { OpenedTheme } from '../theme/open.ts';
import { readOverrides, withOverrides, type OverridesRecord } from '../contents/overrides.ts';
import type { TakenFile } from '../contents/taken-schema.ts';
import { OVERRIDES_FILE } from '../contents/package-contents.ts';
import { Theme } from '../theme/theme.ts';
import type { Originals } from './originals.ts';
import { didYouMean } from '../text/sentence.ts';

/** Copies of a parent's files that are put into a child. */
export interface Overriding {
  readonly plan: ChangePlan;
  readonly taken: readonly TakenFile[];
  readonly notes: readonly TakingNote[];
  /** Files of the parents that the copies ask for, and that the host does not take from there. */
  readonly needs: readonly Need[];
  /** Other errors that the copies bring. */
  readonly errors: readonly Finding[];
}

/** The record of a theme. @throws RefusedError when it cannot be read: whoever writes it again would lose what it says */
export function soundRecord(theme: Theme): OverridesRecord {
  const record = readOverrides(theme.tree);
  const [problem] = record.problems;
  if (problem === undefined) return record;
  const at = record.source?.positionAt(problem.start);
  throw new RefusedError({
    what: `${OVERRIDES_FILE} of ${theme.names.id} cannot be read: ${problem.message}`,
    ...(at === undefined ? {} : { why: `line ${at.line}, column ${at.column}` }),
    hint: 'fix it, or remove entries of files that are not copies any more',
  });
}

/** The parents of a theme as a chain of their own, nearest first. */
export function parentsOf(chain: Chain): Chain {
  return { ...chain, themes: chain.themes.slice(1) };
}

/**
 * Plans copies of the nearest parent's files in their places in a child, on record. Writes nothing.
 * @param wanted files by their paths, or page roles
 * @param now milliseconds since 1970
 * @param answer what is done about what the copies need there
 * @throws UsageError when no parent has one of them
 * @throws RefusedError when the theme has one already, or has no parent here
 */
export async function planOverride(
  { theme, chain, folder, shelves, configuration }: OpenedTheme,
  wanted: readonly string[],
  originals: Originals,
  { now, answer }: { readonly now: number; readonly answer?: NeedAnswer | undefined },
): Promise<Overriding> {
  const parents = parentsOf(chain);
  if (parents.themes.length === 0)
    throw new RefusedError({
      what:
        theme.parents.length === 0
          ? `${theme.names.id} builds on no theme: there is nothing to copy`
          : `the parent of ${theme.names.id}, ${theme.parents.join(', ')}, is on no shelf: its files are not here`,
      ...(theme.parents.length === 0 ? {} : { hint: 'name its shelf with --shelf; what comes with the host is copied from there by hand' }),
    });
  const record = soundRecord(theme);
  const roles = theme.platform.contract.templates?.roles ?? {};
  const fileOf = (each: string): string => (Object.hasOwn(roles, each) ? (roles[each]?.file ?? each) : each.replace(/^\.?\//, ''));
  // A page and its file are one.
  const once = [...new Map(wanted.map((each) => [fileOf(each), each])).values()];
  for (const each of once) {
    const file = fileOf(each);
    if (theme.tree.get(file)?.kind !== 'file') continue;
    const own = record.taken.find((taken) => taken.file === file);
    throw new RefusedError({
      what: own === undefined ? `${theme.names.id} has a ${file} of its own` : `${file} was taken from ${own.theme} already`,
      hint: own === undefined ? 'rename or remove it first' : `“pionero drift” says what became of it there`,
    });
  }
  const { tree, taken, notes, needs, errors } = takeWithNeeds({
    ...{ tree: theme.tree, names: theme.names, parents, wanted: once, now },
    ...{ before: theme, shelves, options: checkOptionsOf(configuration), answer },
  });
  const kept: TakenFile[] = [];
  for (const each of taken) {
    const parent = parents.themes.find(({ names }) => names.id === each.theme);
    // A file that an archive or a repository keeps need not be kept twice.
    const isKept = (await originals.find({ ...each, original: undefined }, parent)) !== undefined;
    kept.push(isKept ? { ...each, original: undefined } : each);
  }
  const after = withOverrides(tree, [...record.taken, ...kept]);
  return {
    plan: planTo(theme, folder, after, `override ${taken.map(({ file }) => file).join(', ')}`, [...taken.map(({ file }) => file)]),
    taken: kept,
    notes,
    needs,
    errors,
  };
}

/** Copies that a child gives up. */
export interface Dropping {
  readonly plan: ChangePlan;
  readonly dropped: readonly TakenFile[];
  /** Copies that were not changed and stay, since other files of the child need them here. */
  readonly needed: readonly TakenFile[];
  /** The errors that the theme would have without the others. */
  readonly errors: readonly Finding[];
}

/**
 * Plans to give copies up again that were not changed. Of all that are so, those stay that the others need here. Writes nothing.
 * @param wanted paths; all that are as the parent has them when left out
 * @throws UsageError when one is not on record
 * @throws RefusedError when one was changed
 */
export function planDrop({ theme, chain, folder, shelves, configuration }: OpenedTheme, wanted: readonly string[]): Dropping {
  const { taken } = soundRecord(theme);
  const parents = parentsOf(chain);
  const isUnchanged = ({ file, sha256: original, from }: TakenFile): boolean => {
    if (theme.tree.get(file)?.kind !== 'file') return true;
    const bytes = theme.tree.read(file);
    const now = findInChain(parents, from);
    return sha256(bytes) === original || (now !== undefined && now.theme.tree.read(now.path).equals(bytes));
  };
  let dropped =
    wanted.length === 0
      ? taken.filter(isUnchanged)
      : wanted.map((each) => {
          const path = each.replace(/^\.?\//, '');
          const own = taken.find(({ file }) => file === path);
          if (own === undefined) throw notOnRecord(theme, path, taken);
          if (!isUnchanged(own))
            throw new RefusedError({
              what: `${path} was changed since it was taken from ${own.theme}`,
              why: 'the changes would be lost',
              hint: 'remove the file yourself if you do not want them',
            });
          return own;
        });
  for (;;) {
    const files = dropped.map(({ file }) => file);
    const bare = files.reduce<FileTree>((tree, file) => (tree.get(file) === undefined ? tree : withoutFile(tree, file)), theme.tree);
    const after = withOverrides(
      bare,
      taken.filter((each) => !dropped.includes(each)),
    );
    const left = new Theme(theme.platform, after, theme.names, theme.location);
    const errors = files.length === 0 ? [] : errorsBrought(theme, left, shelves, checkOptionsOf(configuration));
    const needed = new Set(errors.flatMap(({ hint }) => fileToTake(hint)?.path ?? []));
    const stays = wanted.length === 0 ? dropped.filter(({ file }) => needed.has(file)) : [];
    if (stays.length === 0)
      return {
        plan: planTo(theme, folder, after, `override --drop ${files.join(', ')}`, files),
        dropped,
        needed: wanted.length === 0 ? taken.filter((each) => isUnchanged(each) && !dropped.includes(each)) : [],
        errors,
      };
    dropped = dropped.filter((each) => !stays.includes(each));
  }
}

function notOnRecord(theme: Theme, path: string, taken: readonly TakenFile[]): UsageError {
  const files = taken.map(({ file }) => file);
  const near = nearest(path, files);
  return new UsageError({
    what: `${path} of ${theme.names.id} is not on record as taken from a parent`,
    hint: didYouMean(near, files.length === 0 ? 'nothing is on record' : `on record: ${files.join(', ')}`),
  });
}

/** The plan that makes of a theme’s files others, with the record. */
export function planTo(theme: Theme, folder: string, after: FileTree, title: string, files: readonly string[]): ChangePlan {
  const touched = new Set([...files, OVERRIDES_FILE]);
  return planBetween(`${title} (${theme.names.id})`, folder, theme.asRead(touched), after, touched);
}
