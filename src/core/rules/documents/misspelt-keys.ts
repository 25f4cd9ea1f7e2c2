import { childrenOf, type MapEntry, type ValueNode } from '../../documents/syntax.ts';
import { nearest, isSlip } from '../../text/nearest.ts';
import { keyPath, type ThemeDocument } from '../../theme/documents.ts';
import { wholePattern } from '../../names/shape.ts';

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

/** The keys that a contract lists, each with those below it. */
interface KeyTree extends ReadonlyMap<string, KeyTree> {}

function keyTree(paths: readonly (readonly string[])[]): KeyTree {
  type Growing = Map<string, Growing>;
  const root: Growing = new Map();
  for (const path of paths) {
    let at = root;
    for (const key of path) {
      const next: Growing = at.get(key) ?? new Map();
      at.set(key, next);
      at = next;
    }
  }
  return root;
}

/**
 * The keys of a document that its platform does not list: at the top, and within each section of which it lists keys.
 * Within a section that is unknown itself, nothing is reported.
 */
export function unknownKeys({ contract, root }: ThemeDocument): UnknownKey[] {
  // What newer releases call a field is known as well as the field.
  const paths = contract.fields.flatMap((field) => {
    const path = keyPath(field);
    return field['replaced-by'] === undefined ? [path] : [path, [...path.slice(0, -1), field['replaced-by']]];
  });
  const tree = keyTree(paths);
  const answers = new Map(contract.fields.map((field) => [keyPath(field).join('\0'), field['other-fields']]));
  const within = (node: ValueNode, keys: KeyTree, prefix: readonly string[], answer: 'allowed' | 'ignored'): UnknownKey[] => {
    const known = [...keys.keys()];
    const inside = childrenOf(node);
    const present = new Set(inside.map(({ key }) => key));
    const isOpen = answer === 'allowed';
    return inside.flatMap((entry): UnknownKey[] => {
      const path = [...prefix, entry.key];
      const below = keys.get(entry.key);
      if (below !== undefined) {
        const own = answers.get(path.join('\0')) ?? answer;
        // A section without listed keys is reported only where it is closed by itself.
        return below.size > 0 || (answers.get(path.join('\0')) === 'ignored' && entry.value.kind === 'map')
          ? within(entry.value, below, path, own)
          : [];
      }
      if (node.kind === 'list') return [];
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
  return root === undefined ? [] : within(root, tree, [], contract['other-fields']);
}

function isTranslation(key: string, { fields }: ThemeDocument['contract']): boolean {
  return fields.some(({ translations }) => translations !== undefined && wholePattern(translations).test(key));
}

/** Keys that plainly mean others: the others are then not reported as missing. */
export function misspeltKeys(document: ThemeDocument): { readonly meant: readonly string[] }[] {
  return unknownKeys(document).flatMap(({ near, isNearThere }) => (near === undefined || isNearThere ? [] : [{ meant: near }]));
}
