import type { EditedFile } from '../../core/editor/editor-workspace.ts';
import type { Target } from '../../core/editor/spots.ts';
import { usesOf, type Use } from '../../core/editor/uses.ts';
import type { Session } from './session.ts';

type Edited = Omit<EditedFile, 'path'>;

/** A theme and those on its shelves that build on it or that it builds on, as the editor has them. */
export function familyOf({ workspace }: Session, { opened, theme, chain }: EditedFile): Edited[] {
  const ids = new Set(chain.themes.map(({ names }) => names.id));
  const others = opened.shelves.list().flatMap(({ names, folder }): Edited[] => {
    if (names.id === theme.names.id) return [];
    const other = workspace.opened(folder);
    if (other === undefined) return [];
    const isRelated = ids.has(names.id) || other.chain.themes.some((each) => each.names.id === theme.names.id);
    return isRelated ? [{ opened: other, ...workspace.edited(other) }] : [];
  });
  return [{ opened, theme, chain }, ...others];
}

/** Every place in a theme and its family that names a thing. */
export function usesAround(session: Session, file: EditedFile, target: Target): Use[] {
  return usesOf(target, familyOf(session, file));
}
