import { copyOperations, type Operation } from '../changes/plan.ts';
import { choosePackageContents } from '../contents/package-contents.ts';
import { PioneroError } from '../errors.ts';
import { followLinks } from '../files/file-tree.ts';
import type { Platform } from '../platform/platform.ts';
import { checkTheme } from '../rules/engine/check.ts';
import { checkKit, type KitProblem } from '../scaffold/check-kit.ts';
import { KIT_ENDING, kitOfTheme, KITS_FOLDER } from '../scaffold/kits.ts';
import { kitTextOf } from '../scaffold/make-kit.ts';
import { openChain } from '../theme/chain.ts';
import { Shelves } from '../theme/shelf.ts';
import { Theme } from '../theme/theme.ts';
import type { SampleTheme } from './theme-set.ts';

/** A platform's first kit, a copy of one of its themes, before it is written. */
export interface FirstKit {
  /** What makes it, from the folder of the platform file. */
  readonly operations: readonly Operation[];
  /** The kit file, from there. */
  readonly file: string;
  /** How many themes were made of it. */
  readonly tried: number;
  /** The problems that these have and the theme itself has not: errors, and mentions of it that are left. */
  readonly problems: readonly KitProblem[];
}

/**
 * Plans a kit of a theme, without what belongs in no package, and without links that lead out of it; then makes themes of it under a
 * dozen names and checks them. Writes nothing.
 * @param folders the folders on disk in which the theme and its parents lie
 */
export function planFirstKit(platform: Platform, { id, tree }: SampleTheme, folders: readonly string[]): FirstKit {
  const theme = new Theme(platform, tree, { id }, id);
  const shelves = new Shelves(platform, folders);
  const own = new Set(checkTheme(theme, openChain(theme, shelves), shelves, {}).findings.map(({ rule }) => rule));
  const { tried, problems } = checkKit(kitOfTheme(theme, KITS_FOLDER), folders);
  const file = `${KITS_FOLDER}/${id}${KIT_ENDING}`;
  const text = Buffer.from(kitTextOf(theme, { parts: [], asks: [], markers: [] }));
  const root = `${KITS_FOLDER}/${id}`;
  const entries = choosePackageContents(theme, []).entries.filter((entry) => followLinks(tree, entry.path) !== undefined);
  return {
    operations: [
      { op: 'folder', path: KITS_FOLDER, mode: 0o755 },
      { op: 'folder', path: root, mode: 0o755 },
      ...copyOperations(tree, entries, root),
      { op: 'create', path: file, content: { bytes: text }, size: text.length, mode: 0o644 },
    ],
    file,
    tried,
    problems: problems.filter(
      ({ problem }) => problem instanceof PioneroError || !('rule' in problem) || (problem.severity === 'error' && !own.has(problem.rule)),
    ),
  };
}
