import type { MapEntry, MapNode } from '../documents/syntax.ts';
import { nearest, isSlip } from '../text/nearest.ts';
import { keyPath, type ThemeDocument } from './documents.ts';
import { wholePattern } from '../names/shape.ts';

/** A key of a document that its platform does not know. */
export interface UnknownKey {
  readonly entry: MapEntry;
  /** Where it stands. */
  readonly path: readonly string[];
  /** What may stand in that place. */
  readonly known: readonly string[];
  /** Where the nearest known key would stand; undefined when none is near. */
  readonly near?: readonly string[] | undefined;
  /** Whether the nearest is there already. */
  readonly isNearThere: boolean;
}

/**
 * The keys of a document that its platform does not list: at the top, and within each section of which it lists keys.
 * Of a section that is unknown itself, nothing within is told.
 */
export function unknownKeys({ contract, root }: ThemeDocument): UnknownKey[] {
  // What newer releases call a field is known as well as the field.
  const paths = contract.fields.flatMap((field) => {
    const path = keyPath(field);
    return field['replaced-by'] === undefined ? [path] : [path, [...path.slice(0, -1), field['replaced-by']]];
  });
  const isOpen = contract['other-fields'] === 'allowed';
  const within = (map: MapNode, prefix: readonly string[]): UnknownKey[] => {
    const inside = paths.filter((path) => path.length > prefix.length && prefix.every((key, i) => path[i] === key));
    const known = [...new Set(inside.map((path) => path[prefix.length] ?? ''))];
    const present = new Set(map.entries.map(({ key }) => key));
    return map.entries.flatMap((entry): UnknownKey[] => {
      const path = [...prefix, entry.key];
      if (known.includes(entry.key)) {
        const isSection =
          entry.value.kind === 'map' && paths.some((each) => each.length > path.length && path.every((key, i) => each[i] === key));
        return isSection && entry.value.kind === 'map' ? within(entry.value, path) : [];
      }
      // Parts of a translated key, and what a syntax makes of markup, are the field's own.
      if (isTranslation(entry.key, contract) || entry.key.startsWith('#')) return [];
      const near = nearest(entry.key, known);
      // Where others are allowed, only a slip of a known one is wrong.
      if (isOpen && (near === undefined || present.has(near) || !isSlip(entry.key, near))) return [];
      return [
        {
          entry,
          path,
          known,
          near: near === undefined ? undefined : [...prefix, near],
          isNearThere: near !== undefined && present.has(near),
        },
      ];
    });
  };
  return root === undefined ? [] : within(root, []);
}

function isTranslation(key: string, { fields }: ThemeDocument['contract']): boolean {
  return fields.some(({ translations }) => translations !== undefined && wholePattern(translations).test(key));
}

/** Keys that plainly mean others: what those others lack is no finding of its own. */
export function misspeltKeys(document: ThemeDocument): { readonly meant: readonly string[] }[] {
  return unknownKeys(document).flatMap(({ near, isNearThere }) => (near === undefined || isNearThere ? [] : [{ meant: near }]));
}
