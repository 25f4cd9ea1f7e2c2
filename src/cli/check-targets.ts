import { basename, dirname, join } from 'node:path';
import { findConfiguration } from '../core/configuration/configuration.ts';
import { PioneroError, UsageError } from '../core/errors.ts';
import { kindOnDisk } from '../core/files/disk.ts';
import { matchesAny, problemOfGlob } from '../core/files/glob.ts';
import { compareText } from '../core/files/file-tree.ts';
import { pathFrom, withSlashes } from '../core/files/paths.ts';
import { openThemeFolder } from '../core/theme/open.ts';
import { findThemes, isTheme } from '../core/theme/find-themes.ts';
import type { Context } from './command.ts';
import { folderOf, isArchive } from './theme-argument.ts';
import { listed } from '../core/text/sentence.ts';

/** One thing to be checked: a theme's folder, an archive, or an argument that is neither, with what is wrong with it. */
export type CheckTarget =
  | { readonly kind: 'folder' | 'archive'; readonly path: string }
  | { readonly kind: 'failed'; readonly path: string; readonly error: PioneroError };

/** The targets that arguments stand for, each once; and folders beside the themes of a shelf that are not themes. */
export interface CheckTargets {
  readonly targets: readonly CheckTarget[];
  readonly others: readonly string[];
}

/**
 * Finds the themes that arguments name: a theme, an archive, a folder of themes, a workspace with `themes:` in its
 * `pionero.yaml`, or a glob that the shell left alone.
 */
export function checkTargets(context: Context, args: readonly string[]): CheckTargets {
  const targets = new Map<string, CheckTarget>();
  const others = new Set<string>();
  for (const argument of args.length === 0 ? ['.'] : args) {
    try {
      const found = targetsOf(context, argument);
      for (const target of found.targets) targets.set(target.path, target);
      for (const other of found.others) others.add(other);
    } catch (error) {
      if (!(error instanceof PioneroError)) throw error;
      targets.set(context.path(argument), { kind: 'failed', path: context.path(argument), error });
    }
  }
  return { targets: [...targets.values()], others: [...others].filter((other) => !targets.has(other)) };
}

function targetsOf(context: Context, argument: string): CheckTargets {
  const path = context.path(argument);
  const kind = kindOnDisk(path);
  if (kind === undefined && /[*?[{]/.test(argument)) return { targets: matching(context, argument), others: [] };
  if (kind !== undefined && kind !== 'folder' && isArchive(argument, context)) return { targets: [{ kind: 'archive', path }], others: [] };
  const folder = context.path(folderOf(argument, context));
  return themesIn(context, folder) ?? { targets: [{ kind: 'folder', path: folder }], others: [] };
}

/** The themes of a folder that is not a theme; undefined when it is one, or holds none. */
function themesIn(context: Context, folder: string): CheckTargets | undefined {
  const platforms = context.possiblePlatforms();
  if (isTheme(folder, platforms)) return undefined;
  const { layers } = findConfiguration(folder);
  const own = layers.find(({ file }) => dirname(file) === folder);
  const found = findThemes(folder, platforms);
  const listed = own?.themes;
  if (listed !== undefined) {
    const isListed = (path: string): boolean => matchesAny(pathFrom(folder, path), listed);
    const chosen = [...found.themes, ...found.others].filter(isListed).map(asFolder);
    // A place without a star is meant to be there.
    const plain = listed.filter((glob) => !/[*?[{]/.test(glob)).map((place) => join(folder, place));
    const missing = plain.filter((place) => !chosen.some((target) => target.path === place)).map(asFolder);
    return { targets: [...chosen, ...missing], others: [] };
  }
  // A theme that is configured by its place needs no marks.
  if (own?.platform !== undefined && found.themes.length === 0) return undefined;
  if (found.themes.length === 0) return undefined;
  const lost = found.others.filter((path) => isLostTheme(context, path));
  const others = found.others.filter((path) => !lost.includes(path));
  return { targets: [...found.themes, ...lost].toSorted(compareText).map(asFolder), others };
}

/** Whether a folder is a theme that lost what it is recognized by. */
function isLostTheme(context: Context, path: string): boolean {
  try {
    openThemeFolder(path, { ...context.opening, isLenient: true });
    return true;
  } catch (error) {
    if (error instanceof PioneroError) return false;
    throw error;
  }
}

function asFolder(path: string): CheckTarget {
  return { kind: 'folder', path };
}

/** The themes whose folders a glob fits, or that lie in folders that it fits. @throws UsageError when there is none */
function matching(context: Context, pattern: string): CheckTarget[] {
  const glob = withSlashes(pattern);
  const problem = problemOfGlob(glob);
  if (problem !== undefined) throw new UsageError({ what: `${glob} cannot be used as a pattern`, why: problem });
  const parts = glob.replace(/\/$/, '').split('/');
  const fixed = parts
    .slice(
      0,
      Math.max(
        0,
        parts.findIndex((part) => /[*?[{]/.test(part)),
      ),
    )
    .join('/');
  const base = context.path(glob.startsWith('/') ? fixed || '/' : fixed);
  if (kindOnDisk(base) !== 'folder') throw new UsageError({ what: `there is no folder ${fixed}`, hint: 'check the path' });
  const wanted = parts.slice(fixed === '' ? 0 : fixed.split('/').length).join('/');
  const { themes } = findThemes(base, context.platforms());
  const found = themes.filter((theme) => fits(pathFrom(base, theme), wanted));
  if (found.length > 0) return found.map(asFolder);
  const names = themes.map((theme) => basename(theme));
  throw new UsageError({
    what: `no theme fits ${glob}`,
    hint: names.length === 0 ? 'there are no themes below that folder' : `there are ${listed(names, 4)}`,
  });
}

/** Whether a path, or a folder on the way to it, fits a glob. */
function fits(path: string, glob: string): boolean {
  const parts = path.split('/');
  return parts.some((_part, i) => matchesAny(parts.slice(0, i + 1).join('/'), [glob]));
}
