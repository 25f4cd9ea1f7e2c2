import type { Place } from './places.ts';

/** Places that are decided on together: one identifier, for one reason, that would become one thing. */
export interface PlaceGroup<P extends Place> {
  readonly identifier: string;
  readonly places: readonly P[];
}

/** Groups places by what they say, the largest group first; within a group, and among equals, in their order. */
export function groupPlaces<P extends Place>(places: readonly P[], sortOf: (place: P) => string): PlaceGroup<P>[] {
  const groups = new Map<string, P[]>();
  for (const place of places) {
    const key = `${place.identifier}\0${sortOf(place)}`;
    const own = groups.get(key);
    if (own === undefined) groups.set(key, [place]);
    else own.push(place);
  }
  return [...groups.values()]
    .map((own) => ({ identifier: own[0]?.identifier ?? '', places: own }))
    .sort((a, b) => b.places.length - a.places.length);
}
