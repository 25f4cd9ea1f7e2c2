import { childrenOf, type MapNode, type ValueNode } from '../documents/syntax.ts';
import type { ThemeNames } from '../names/full-name.ts';
import { fillShape } from '../names/shape.ts';
import { patternPath } from '../platform/contract-problems.ts';
import type { DocumentContract, FieldContract } from '../platform/schema.ts';
import { Wildcard } from '../text/wildcard.ts';

/** A place in a document that a key of the contract stands for. */
export interface KeyPlace {
  readonly path: readonly string[];
  /** Which parts of the path are the theme’s name, with their shape. */
  readonly named: readonly { readonly depth: number; readonly shape: string }[];
}

function isPattern(part: string): boolean {
  return part.includes('*') || part.includes('{');
}

/**
 * The places in a document that a key path with patterns stands for. The entry for a `*` must be there; what is literal behind
 * it need not be, so that a field which is missing in one of many sections is missed there.
 */
export function placesOf(root: MapNode | undefined, pattern: readonly string[], names: ThemeNames): KeyPlace[] {
  const places: KeyPlace[] = [];
  const visit = (node: ValueNode | undefined, depth: number, place: KeyPlace): void => {
    const part = pattern[depth];
    if (part === undefined) {
      places.push(place);
      return;
    }
    const inside = childrenOf(node);
    const step = (key: string, value: ValueNode | undefined, next: number, shape?: string): void =>
      visit(value, next, {
        path: [...place.path, key],
        named: shape === undefined ? place.named : [...place.named, { depth: place.path.length, shape }],
      });
    if (part === '**') {
      // Here, or further down; nothing is missed at every depth.
      const next = pattern[depth + 1];
      if (next === undefined || next.includes('*') || inside.some(({ key }) => key === fillShape(next, names)))
        visit(node, depth + 1, place);
      for (const { key, value } of inside) step(key, value, depth);
    } else if (part.includes('*')) {
      const wildcard = new Wildcard(part, /\n/);
      for (const { key, value } of inside) if (wildcard.matches(key)) step(key, value, depth + 1);
    } else {
      const key = fillShape(part, names);
      step(key, inside.find((entry) => entry.key === key)?.value, depth + 1, key === part ? undefined : part);
    }
  };
  visit(root, 0, { path: [], named: [] });
  return places;
}

/** The contract of a document with the keys that this document has, or should have, in the place of patterns. */
export function concreteContract(contract: DocumentContract, root: MapNode | undefined, names: ThemeNames): DocumentContract {
  if (!contract.fields.some((field) => patternPath(field).some(isPattern))) return contract;
  const fields = contract.fields.flatMap((field): FieldContract[] =>
    patternPath(field).some(isPattern)
      ? placesOf(root, patternPath(field), names).map(({ path }) => ({ ...field, key: [...path] }))
      : [field],
  );
  return { ...contract, fields };
}

/** The keys of a document that are the theme’s name, where its platform says so: `[themes, "{id}", title]`. */
export function namedKeys(contract: DocumentContract, root: MapNode | undefined, names: ThemeNames): KeyPlace[] {
  const found = new Map<string, KeyPlace>();
  for (const field of contract.fields) {
    for (const { path, named } of placesOf(root, patternPath(field), names)) {
      for (const { depth, shape } of named) {
        const upTo = path.slice(0, depth + 1);
        found.set(upTo.join('\0'), { path: upTo, named: [{ depth, shape }] });
      }
    }
  }
  return [...found.values()];
}
