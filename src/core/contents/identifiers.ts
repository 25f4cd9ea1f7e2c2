import { matchesAny } from '../files/glob.ts';
import { isInSpan } from '../platform/platform.ts';
import { fillShape, shapePattern, wholePattern } from '../names/shape.ts';
import type { TextRange } from '../text/edits.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { findClassBodies, findZones, zoneAt } from '../text/zones.ts';
import type { Shelves } from '../theme/shelf.ts';
import type { Theme } from '../theme/theme.ts';

/** A name that code of the theme declares in a space that it shares with other themes. */
export interface Declaration extends TextRange {
  readonly name: string;
  readonly file: string;
  readonly source: SourceDocument;
  /** The platform's shapes of such names: `{id:snake}_{name}`. */
  readonly shapes: readonly string[];
  /** Whether the name carries the theme's id as the platform wants it. */
  readonly fits: boolean;
  /** The shape of the name, for people: `albar_…`. */
  readonly wanted: string;
  readonly isUnique: boolean;
}

/**
 * Finds what the platform's identifier shapes describe; members of classes are not in the shared space.
 * @param releases of the host that share it; all that the platform knows when left out
 */
export function* findDeclarations(theme: Theme, releases: readonly string[] = theme.platform.contract.releases): Generator<Declaration> {
  for (const shape of theme.platform.contract.identifiers) {
    if (!isInSpan(shape, releases)) continue;
    const wanted = shape.shape.map((each) => wholePattern(each, theme.names));
    for (const entry of theme.tree.entries) {
      if (entry.kind !== 'file' || !matchesAny(entry.path, shape.files)) continue;
      const source = theme.source(entry.path);
      if (source === undefined) continue;
      const zones = findZones(entry.path, source.text);
      const classes = findClassBodies(source.text, zones);
      for (const match of source.text.matchAll(shapePattern(shape.declared))) {
        const name = match.groups?.['name'] ?? match.groups?.['path'] ?? '';
        const start = match.index + match[0].lastIndexOf(name);
        const isMember = classes.some((body) => body.start <= start && start < body.end);
        if (isMember || zoneAt(zones, match.index) !== 'code') continue;
        yield {
          name,
          file: entry.path,
          source,
          start,
          end: start + name.length,
          shapes: shape.shape,
          fits: wanted.some((pattern) => pattern.test(name)),
          wanted: shape.shape.map((each) => fillShape(each, theme.names).replace('{name}', '…')).join(' or '),
          isUnique: shape.unique,
        };
      }
    }
  }
}

/** A name that must be unique, and the theme on the shelf that declares it. */
export interface SharedName extends Pick<Declaration, 'name' | 'file' | 'fits' | 'start' | 'end'> {
  readonly theme: Theme;
}

/** All unique names that the themes on the shelves declare. To be asked for with {@link Shelves.once}. */
export function uniqueNamesOn(shelves: Shelves): ReadonlyMap<string, readonly SharedName[]> {
  const found = new Map<string, SharedName[]>();
  for (const shelved of shelves.list()) {
    const theme = shelves.open(shelved);
    for (const { name, file, fits, start, end, isUnique } of findDeclarations(theme)) {
      if (isUnique) found.set(name, [...(found.get(name) ?? []), { name, file, fits, start, end, theme }]);
    }
  }
  return found;
}
