/**
 * Where in source code a document's literal stands, as a platform file says it (`at`):
 * - `return`: what the file returns
 * - `export default`: what a JavaScript module exports by default
 * - `NAME =`: what is assigned to a variable or member (`$theme =`, `module.exports =`, `window.look =`)
 * - `NAME(2`: the second argument of a call of a function or static method
 * - `assignments`: whatever the statements at the top assign, variable by variable
 */
export type LiteralPlace =
  | { readonly kind: 'return' }
  | { readonly kind: 'export' }
  | { readonly kind: 'assignments' }
  | { readonly kind: 'assign'; readonly name: string }
  | { readonly kind: 'call'; readonly name: string; readonly argument: number };

/** Reads a place; undefined when it is written in none of the forms above. */
export function parseLiteralPlace(at: unknown): LiteralPlace | undefined {
  if (typeof at !== 'string') return undefined;
  if (at === 'return') return { kind: 'return' };
  if (at === 'assignments') return { kind: 'assignments' };
  if (at === 'export default') return { kind: 'export' };
  const assign = /^(\S+) *=$/.exec(at);
  if (assign?.[1] !== undefined) return { kind: 'assign', name: assign[1] };
  const call = /^([^\s(]+)\((\d+)\)?$/.exec(at);
  return call?.[1] === undefined ? undefined : { kind: 'call', name: call[1], argument: Number(call[2]) };
}

/** A statement with nothing in it for each place; undefined for a later argument of a call: who knows those before it? */
export function emptyStatement(place: LiteralPlace, [open, close]: readonly [string, string]): string | undefined {
  switch (place.kind) {
    case 'assignments':
      return '';
    case 'return':
      return `return ${open}\n${close};`;
    case 'export':
      return `export default ${open}\n${close};`;
    case 'assign':
      return `${place.name} = ${open}\n${close};`;
    case 'call':
      return place.argument === 1 ? `${place.name}(${open}\n${close});` : undefined;
  }
}

/** The word for the place, for people. */
export function describePlace(place: LiteralPlace): string {
  switch (place.kind) {
    case 'assignments':
      return 'an assignment';
    case 'return':
      return 'a returned value';
    case 'export':
      return '“export default”';
    case 'assign':
      return `“${place.name} =”`;
    case 'call':
      return `a call of ${place.name} with ${place.argument} or more arguments`;
  }
}
