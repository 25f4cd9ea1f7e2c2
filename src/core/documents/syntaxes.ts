import { commentHeaderSyntax } from './comment-header.ts';
import type { Syntax } from './syntax.ts';
import { yamlSyntax } from './yaml.ts';

/** Every document syntax, by the name that platform files use. A new one is entered here and nowhere else. */
const SYNTAXES: ReadonlyMap<string, Syntax> = new Map([yamlSyntax, commentHeaderSyntax].map((syntax) => [syntax.name, syntax]));

export function findSyntax(name: string): Syntax | undefined {
  return SYNTAXES.get(name);
}
