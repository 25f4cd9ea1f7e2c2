import phpParser from 'php-parser';
import { addAssignment, removeAssignment, rootOfAssignments, type Assignment } from './assignments.ts';
import { beginEmpty, lineEndOf } from './lines.ts';
import { describePlace, emptyStatement, parseLiteralPlace, type LiteralPlace } from './literal.ts';
import { rootOf } from './javascript.ts';
import { duplicateKeys, structuredSyntax } from './structured.ts';
import type { MapEntry, Reading, Scalar, SyntaxProblem, ValueNode } from './syntax.ts';

/** Literals in PHP source. Nothing is executed. Option: `at`. */
export const phpSyntax = structuredSyntax({
  name: 'php',
  maxLength: 1 << 17,
  begin(text, options) {
    const statement = emptyStatement(parseLiteralPlace(options['at']) ?? { kind: 'return' }, ['[', ']']);
    if (statement === undefined || phpProblem(text) !== undefined || readPhp(text, options).root !== undefined) return undefined;
    if (text.trim() === '') return beginEmpty(text, statement === '' ? '<?php\n' : `<?php\n\n${statement}\n`);
    // At the end of the code, before what closes it.
    const end = /\s*(?:\?>\s*)?$/.exec(text)?.index ?? text.length;
    const after = /^\r?\n/.test(text.slice(end)) ? '' : '\n';
    return [{ start: end, end, text: `\n\n${statement}${after}`.replaceAll('\n', lineEndOf(text)) }];
  },
  read: readPhp,
  addEntry(text, map, anchor, value, path, { prefix, options }) {
    if (options['at'] !== 'assignments') return undefined;
    const [variable = '', ...keys] = [...prefix, ...path];
    const target = `${variable}${keys.map((key) => `[${writePhpScalar(key, undefined)}]`).join('')}`;
    return addAssignment(text, map, anchor, `${target} = ${value};`);
  },
  removeEntry: (text, map, entry, options) => (options['at'] === 'assignments' ? removeAssignment(text, map, entry) : undefined),
  writeScalar: writePhpScalar,
  writeKey: (key) => writePhpScalar(key, undefined),
  marks: { assign: ' => ', list: ['[', ']'], map: ['[', ']'] },
});

function writePhpScalar(value: Scalar, before: string | undefined): string {
  if (typeof value !== 'string') return value === null ? 'null' : String(value);
  // Line breaks and controls are escapes, which only double quotes know; in them a dollar sign begins a variable.
  // eslint-disable-next-line no-control-regex
  const needsEscapes = /[\u0000-\u001f\u007f]/.test(value);
  if (!needsEscapes && before?.startsWith('"') !== true) return `'${value.replace(/[\\']/g, '\\$&')}'`;
  const escaped = value
    .replace(/[\\"$]/g, '\\$&')
    .replaceAll('\n', '\\n')
    .replaceAll('\r', '\\r')
    .replaceAll('\t', '\\t')
    // eslint-disable-next-line no-control-regex
    .replace(/[\u0000-\u001f\u007f]/g, (control) => `\\x${control.charCodeAt(0).toString(16).padStart(2, '0')}`);
  return `"${escaped}"`;
}

interface PhpNode {
  readonly kind: string;
  readonly loc?: { readonly start: { readonly offset: number }; readonly end: { readonly offset: number } } | null;
  readonly [key: string]: unknown;
}

/** An expression of so many operators is nobody's, and takes the parser a time that grows with their square. */
const MAX_OPERATORS = 1000;

function hasEndlessExpression(text: string): boolean {
  return text.split(/[;{},]/).some((part) => part.length > MAX_OPERATORS && (part.match(/[<>=*/%&|^?+.-]/g)?.length ?? 0) > MAX_OPERATORS);
}

function readPhp(text: string, options: Readonly<Record<string, unknown>>): Reading {
  if (hasEndlessExpression(text)) return { root: undefined, problems: [{ message: 'an expression in it is endless', start: 0, end: 1 }] };
  const place = parseLiteralPlace(options['at']) ?? { kind: 'return' };
  let program: PhpNode;
  try {
    const engine = new phpParser.Engine({ parser: { extractDoc: false, suppressErrors: false }, ast: { withPositions: true } });
    program = engine.parseCode(text, 'document.php') as unknown as PhpNode;
  } catch (error) {
    if (error instanceof RangeError) throw error;
    return { root: undefined, problems: [syntaxProblem(error, text)] };
  }
  if (place.kind === 'assignments') {
    const found: SyntaxProblem[] = [];
    return { root: rootOfAssignments(assignmentsIn(childrenOf(program), text, found), text.length), problems: found };
  }
  const found = findLiteral(childrenOf(program), place);
  if (found === undefined) return { root: undefined, problems: [{ message: `there is no ${describePlace(place)}`, start: 0, end: 0 }] };
  const problems: SyntaxProblem[] = [];
  return { root: rootOf(toNode(found, text, problems)), problems };
}

/** What PHP does not allow in a file, as far as the parser knows the language; undefined when nothing is wrong. */
export function phpProblem(text: string): SyntaxProblem | undefined {
  if (hasEndlessExpression(text)) return undefined;
  try {
    new phpParser.Engine({ parser: { extractDoc: false, suppressErrors: false } }).parseCode(text, 'file.php');
    return undefined;
  } catch (error) {
    if (error instanceof RangeError) throw error;
    return syntaxProblem(error, text);
  }
}

/** Whatever the parser throws, it throws over the text: the reading has a problem, the program has none. */
function syntaxProblem(error: unknown, text: string): SyntaxProblem {
  const { lineNumber, columnNumber } = error as { lineNumber?: number; columnNumber?: number };
  const lines = text.split('\n').slice(0, Math.max(0, (lineNumber ?? 1) - 1));
  const start = Math.min(lines.join('\n').length + (lines.length > 0 ? 1 : 0) + (columnNumber ?? 0), text.length);
  const message = error instanceof Error ? error.message.replace(/^Parse Error\s*: */i, '').replace(/ on line \d+$/, '') : String(error);
  return { message: message.charAt(0).toLowerCase() + message.slice(1), start, end: Math.min(start + 1, text.length) };
}

function childrenOf(node: PhpNode | undefined): PhpNode[] {
  return Array.isArray(node?.['children']) ? (node['children'] as PhpNode[]) : [];
}

function part(node: PhpNode | undefined, key: string): PhpNode | undefined {
  const value = node?.[key];
  return typeof value === 'object' && value !== null && 'kind' in value ? (value as PhpNode) : undefined;
}

function findLiteral(statements: readonly PhpNode[], place: LiteralPlace): PhpNode | undefined {
  for (const statement of statements) {
    const inner = statement.kind === 'namespace' || statement.kind === 'block' ? findLiteral(childrenOf(statement), place) : undefined;
    if (inner !== undefined) return inner;
    if (statement.kind === 'return' && place.kind === 'return') return part(statement, 'expr');
    const expression = statement.kind === 'expressionstatement' ? part(statement, 'expression') : undefined;
    if (expression?.kind === 'assign' && place.kind === 'assign' && nameOf(part(expression, 'left')) === place.name)
      return part(expression, 'right');
    if (expression?.kind === 'call' && place.kind === 'call' && nameOf(part(expression, 'what')) === place.name) {
      const argument = (expression['arguments'] as PhpNode[])[place.argument - 1];
      if (argument !== undefined) return argument;
    }
  }
  return undefined;
}

/** The assignments of the statements at the top, to variables or to their keys. */
function assignmentsIn(statements: readonly PhpNode[], text: string, problems: SyntaxProblem[]): Assignment[] {
  return statements.flatMap((statement): Assignment[] => {
    if (statement.kind === 'namespace' || statement.kind === 'block') return assignmentsIn(childrenOf(statement), text, problems);
    const expression = statement.kind === 'expressionstatement' ? part(statement, 'expression') : undefined;
    const [left, right] = [part(expression, 'left'), part(expression, 'right')];
    if (expression?.kind !== 'assign' || expression['operator'] !== '=' || left === undefined || right === undefined) return [];
    const path = targetOf(left, text);
    const last = left.kind === 'offsetlookup' ? part(left, 'offset') : left;
    if (path === undefined || last === undefined) return [];
    const value = toNode(right, text, problems);
    return [{ path, keyStart: last.loc?.start.offset ?? 0, keyEnd: last.loc?.end.offset ?? 0, value }];
  });
}

/** `$conf['a']['b']` as a path; undefined when a part of it is known only when the code runs. */
function targetOf(node: PhpNode, text: string): string[] | undefined {
  if (node.kind !== 'offsetlookup') {
    const name = nameOf(node);
    return name === undefined ? undefined : [name];
  }
  const [what, offset] = [part(node, 'what'), part(node, 'offset')];
  const before = what === undefined ? undefined : targetOf(what, text);
  const key = offset === undefined ? undefined : constantOf(offset, text);
  return before === undefined || (typeof key !== 'string' && typeof key !== 'number') ? undefined : [...before, String(key)];
}

/** `$a`, `$a->b`, `A\B::c`; a leading backslash counts for nothing. */
function nameOf(node: PhpNode | undefined): string | undefined {
  switch (node?.kind) {
    case 'variable':
      return typeof node['name'] === 'string' ? `$${node['name']}` : undefined;
    case 'name':
    case 'identifier':
      return String(node['name']).replace(/^\\/, '');
    case 'staticlookup':
      return `${nameOf(part(node, 'what'))}::${nameOf(part(node, 'offset'))}`;
    case 'propertylookup':
      return `${nameOf(part(node, 'what'))}->${nameOf(part(node, 'offset'))}`;
    default:
      return undefined;
  }
}

function toNode(node: PhpNode, text: string, problems: SyntaxProblem[]): ValueNode {
  const start = node.loc?.start.offset ?? 0;
  const end = node.loc?.end.offset ?? 0;
  const constant = constantOf(node, text);
  if (constant !== undefined) return { kind: 'scalar', value: constant, isQuoted: typeof constant === 'string', start, end };
  if (node.kind !== 'array') return { kind: 'unknown', reason: 'it is known only when the code runs', start, end };
  const items = node['items'] as PhpNode[];
  const keyed = items.some((item) => part(item, 'key') !== undefined);
  // array(…) and […] are one thing; the container's range must begin and end with its brackets for editing.
  const open = text.indexOf(node['shortForm'] === true ? '[' : '(', start);
  const range = { start: open, end };
  if (!keyed && items.length > 0)
    return { kind: 'list', items: items.map((item) => toNode(part(item, 'value') ?? item, text, problems)), ...range };
  const entries = items.flatMap((item): MapEntry[] => {
    const key = part(item, 'key');
    const value = part(item, 'value');
    const name = key === undefined ? undefined : constantOf(key, text);
    if (key === undefined || value === undefined || (typeof name !== 'string' && typeof name !== 'number')) return [];
    return [
      { key: String(name), keyStart: key.loc?.start.offset ?? 0, keyEnd: key.loc?.end.offset ?? 0, value: toNode(value, text, problems) },
    ];
  });
  for (const problem of duplicateKeys(entries)) problems.push(problem);
  return items.length === 0 ? { kind: 'list', items: [], ...range } : { kind: 'map', entries, ...range };
}

/** The value of a constant expression; undefined when it is not constant. */
function constantOf(node: PhpNode, text: string): Scalar | undefined {
  switch (node.kind) {
    case 'string':
      return unescape(text.slice(node.loc?.start.offset, node.loc?.end.offset));
    case 'number':
      return Number(String(node['value']).replaceAll('_', ''));
    case 'boolean':
      return node['value'] === true;
    case 'nullkeyword':
      return null;
    case 'unary': {
      const inner = part(node, 'what');
      const value = inner === undefined ? undefined : constantOf(inner, text);
      return node['type'] === '-' && typeof value === 'number' ? -value : undefined;
    }
    case 'bin': {
      const [left, right] = [part(node, 'left'), part(node, 'right')].map((side) =>
        side === undefined ? undefined : constantOf(side, text),
      );
      return node['type'] === '.' && typeof left === 'string' && typeof right === 'string' ? left + right : undefined;
    }
    default:
      return undefined;
  }
}

const ESCAPES: Readonly<Record<string, string>> = {
  n: '\n',
  r: '\r',
  t: '\t',
  v: '\v',
  f: '\f',
  e: '\u001b',
  '\\': '\\',
  $: '$',
  '"': '"',
};

/** Undoes the escapes of a quoted PHP string, after the language's own rules for each kind of quotes. */
function unescape(raw: string): string {
  const body = raw.replace(/^b?(['"])/i, '').slice(0, -1);
  if (/^b?'/i.test(raw)) return body.replace(/\\([\\'])/g, '$1');
  return body.replace(
    /\\(?:u\{([0-9a-f]+)\}|x([0-9a-f]{1,2})|([0-7]{1,3})|([nrtvfe\\$"]))/gi,
    (_all, point: string, hex: string, octal: string, letter: string) => {
      if (point !== undefined) return String.fromCodePoint(Math.min(parseInt(point, 16), 0x10_ffff));
      if (hex !== undefined) return String.fromCharCode(parseInt(hex, 16));
      return octal !== undefined ? String.fromCharCode(parseInt(octal, 8) & 255) : (ESCAPES[letter.toLowerCase()] ?? letter);
    },
  );
}
