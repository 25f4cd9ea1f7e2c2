import { mentionsOf } from '../contents/references.ts';
import type { Theme } from '../theme/theme.ts';
import type { EditedFile } from './editor-workspace.ts';
import { isSameTarget, spotsIn, type Spot, type Target } from './spots.ts';

/** A place in a file of a theme that names something. */
export interface Use extends Spot {
  readonly theme: Theme;
  /** From the root of that theme. */
  readonly path: string;
}

/** Every place in some themes that names a thing. @param files a file of each theme, with its chain */
export function usesOf(target: Target, files: readonly Omit<EditedFile, 'path'>[]): Use[] {
  return files.flatMap((file) => {
    const paths = file.theme.tree.entries.filter(({ kind }) => kind === 'file').map(({ path }) => path);
    const mentions = [...mentionsOf(file.chain)];
    return paths.flatMap((path) =>
      spotsIn({ ...file, path }, mentions)
        .filter((spot) => isSameTarget(spot.target, target))
        .map((spot): Use => ({ ...spot, theme: file.theme, path })),
    );
  });
}
