import { parse, type AnyNode, type Program } from 'acorn';
import type { TextRange } from '../text/edits.ts';
import { isNestedTooDeeply } from '../text/nesting.ts';

/** A stretch of JavaScript in a template, without its marks. */
export interface CodePart extends TextRange {
  /** Whether it is a value that is printed; else it is statements. */
  readonly isValue: boolean;
}

/** The JavaScript of a template as one program: texts between the tags are statements in it that do nothing. */
export interface EmbeddedCode {
  /** The first error of the language, at its offset in the template. */
  readonly problem?: { readonly message: string; readonly at: number };
  /** Names that are called and that the template does not declare: `link_to(…)`. */
  readonly calls: readonly (TextRange & { readonly name: string })[];
  /** Names that it declares, or hands to another template. */
  readonly declares: ReadonlySet<string>;
  /** What runs under a condition, for each of a list, or when it is called; one can lie in another. */
  readonly branches: readonly TextRange[];
}

/** Longer templates are not parsed: it would take longer than all other checks together. */
const MAX_LENGTH = 1 << 18;
const NOTHING: EmbeddedCode = { calls: [], declares: new Set(), branches: [] };
const BRANCHING =
  /^(?:If|For|ForIn|ForOf|While|Switch)Statement$|^(?:Function|ArrowFunction|Logical|Conditional)Expression$|^FunctionDeclaration$/;

/** Reads the JavaScript of a template, as a template engine makes a function of it. */
export function readEmbedded(text: string, parts: readonly CodePart[]): EmbeddedCode {
  if (text.length > MAX_LENGTH) return NOTHING;
  let program = '';
  const places: { readonly from: number; readonly start: number; readonly length: number }[] = [];
  for (const { start, end, isValue } of parts) {
    program += isValue ? ';(' : ';';
    places.push({ from: program.length, start, length: end - start });
    // A comment at the end of a tag ends with the tag.
    program += `${text.slice(start, end)}\n${isValue ? ');' : ';'}`;
  }
  const offsetOf = (position: number): number => {
    let [low, high] = [0, places.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((places[middle]?.from ?? Infinity) <= position) low = middle + 1;
      else high = middle;
    }
    const place = places[low - 1];
    return place === undefined ? 0 : place.start + Math.min(position - place.from, place.length);
  };
  if (isNestedTooDeeply(program)) return NOTHING;
  try {
    const tree = parse(program, { ecmaVersion: 'latest', sourceType: 'script', allowReturnOutsideFunction: true });
    return namesIn(tree, offsetOf);
  } catch (error) {
    if (!(error instanceof SyntaxError) || !('pos' in error)) throw error;
    const message = error.message.replace(/ \(\d+:\d+\)$/, '');
    return { ...NOTHING, problem: { message: message.charAt(0).toLowerCase() + message.slice(1), at: offsetOf(Number(error.pos)) } };
  }
}

/** Which names a program calls and which it declares; what is declared anywhere counts everywhere. */
function namesIn(tree: Program, offsetOf: (position: number) => number): EmbeddedCode {
  const declares = new Set<string>();
  const called: { name: string; start: number; end: number }[] = [];
  const branches: TextRange[] = [];
  const stack: AnyNode[] = [tree];
  const declare = (pattern: AnyNode | null): void => {
    if (pattern?.type === 'Identifier') declares.add(pattern.name);
    else if (pattern !== null) for (const each of childrenOf(pattern)) declare(each);
  };
  for (let node = stack.pop(); node !== undefined; node = stack.pop()) {
    if (node.type === 'VariableDeclarator') declare(node.id);
    if (node.type === 'AssignmentExpression' && node.left.type === 'Identifier') declare(node.left);
    if ('params' in node) for (const each of node.params) declare(each);
    if (node.type === 'FunctionDeclaration' || node.type === 'FunctionExpression') declare(node.id ?? null);
    if (node.type === 'Property' && node.key.type === 'Identifier' && !node.computed) declares.add(node.key.name);
    if (node.type === 'CallExpression' && node.callee.type === 'Identifier') {
      const { name, start, end } = node.callee;
      called.push({ name, start: offsetOf(start), end: offsetOf(end) });
    }
    if (BRANCHING.test(node.type)) branches.push({ start: offsetOf(node.start), end: offsetOf(node.end) });
    stack.push(...childrenOf(node));
  }
  const calls = called.filter(({ name }) => !declares.has(name) && !Object.hasOwn(globalThis, name));
  return { calls: calls.sort((a, b) => a.start - b.start), declares, branches: branches.sort((a, b) => a.start - b.start) };
}

function childrenOf(node: AnyNode): AnyNode[] {
  return Object.values(node)
    .flatMap((value: unknown) => (Array.isArray(value) ? value : [value]))
    .filter(isNode);
}

function isNode(value: unknown): value is AnyNode {
  return typeof value === 'object' && value !== null && 'type' in value;
}
