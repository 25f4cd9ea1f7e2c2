import type { Place } from './places.ts';

/** Places that are decided on together: one identifier, for one reason, that would become one thing. */
export interface PlaceGroup<P extends Place> {
  /** The identifier; of several that differ by a number alone, the first: `coreStep1`. */
  readonly identifier: string;
  /** How many identifiers they are. */
  readonly size: number;
  readonly places: readonly P[];
}

/** Groups places by what they say, numbers in it aside, the largest group first; within a group, and among equals, in their order. */
export function groupPlaces<P extends Place>(places: readonly P[], sortOf: (place: P) => string): PlaceGroup<P>[] {
  const groups = new Map<string, P[]>();
  for (const place of places) {
    const key = `${place.identifier.replace(/\d+/g, '0')}\0${sortOf(place)}`;
    const own = groups.get(key);
    if (own === undefined) groups.set(key, [place]);
    else own.push(place);
  }
  return [...groups.values()]
    .map((own) => ({ identifier: own[0]?.identifier ?? '', size: new Set(own.map((each) => each.identifier)).size, places: own }))
    .sort((a, b) => b.places.length - a.places.length);
}

/** The name of a group. */
export function nameOfGroup<P extends Place>({ identifier, size }: PlaceGroup<P>): string {
  return size === 1 ? identifier : `${identifier} and ${size - 1} more such`;
}
