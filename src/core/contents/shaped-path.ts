import type { Fact, FactEntry } from '../theme/documents.ts';
import { entriesOf } from '../theme/documents.ts';
import { wholePattern } from '../names/shape.ts';

/** A path that a document states, and the theme that it is in where the text says so. */
export interface StatedPath extends FactEntry {
  readonly path: string;
  /** The id of the theme; undefined where the text names none: it is this one or a parent. */
  readonly id?: string | undefined;
}

/**
 * The paths in a field of paths, as they are from a theme’s root. A shape says what stands around them, such as the place of
 * themes on the host: /srv/host/themes/{id}/{path}. The rule for types reports a value that does not fit the shape.
 */
export function statedPaths(fact: Pick<Fact, 'node' | 'field' | 'document'>): StatedPath[] {
  const { shape, none } = fact.field;
  return entriesOf(fact).flatMap((entry): StatedPath[] => {
    if (entry.text === '' || entry.text === none) return [];
    if (shape === undefined) return [{ ...entry, path: entry.text }];
    const groups = wholePattern(shape).exec(entry.text)?.groups;
    const path = groups?.['path'];
    return path === undefined ? [] : [{ ...entry, path, id: groups?.['id'] }];
  });
}
