import { parse, type AnyNode, type Expression, type ObjectExpression, type Program } from 'acorn';
import { addAssignment, removeAssignment, rootOfAssignments, type Assignment } from './assignments.ts';
import { beginEmpty, lineEndOf } from './lines.ts';
import { describePlace, emptyStatement, parseLiteralPlace, type LiteralPlace } from './literal.ts';
import { duplicateKeys, structuredSyntax } from './structured.ts';
import type { MapEntry, MapNode, Reading, Scalar, SyntaxProblem, ValueNode } from './syntax.ts';

/** Literals in JavaScript source (ECMAScript modules and scripts). Nothing is executed. Option: `at`. */
export const javascriptSyntax = structuredSyntax({
  name: 'javascript',
  maxLength: 1 << 18,
  begin(text, options) {
    const statement = emptyStatement(parseLiteralPlace(options['at']) ?? { kind: 'export' }, ['{', '}']);
    const { root, problems } = readJavaScript(text, options);
    // A problem with a place is in what is there; one without says that nothing is.
    if (statement === undefined || root !== undefined || problems.some(({ end }) => end > 0)) return undefined;
    if (text.trim() === '') return beginEmpty(text, statement === '' ? '' : `${statement}\n`);
    const end = text.trimEnd().length;
    return [{ start: end, end, text: `\n\n${statement}`.replaceAll('\n', lineEndOf(text)) }];
  },
  read: readJavaScript,
  addEntry(text, map, anchor, value, path, { prefix, options }) {
    if (options['at'] !== 'assignments') return undefined;
    const [variable = '', ...keys] = [...prefix, ...path];
    const target = `${variable}${keys.map((key) => (isIdentifier(key) ? `.${key}` : `[${writeString(key, undefined)}]`)).join('')}`;
    return addAssignment(text, map, anchor, `${keys.length === 0 ? 'const ' : ''}${target} = ${value};`);
  },
  removeEntry: (text, map, entry, options) => (options['at'] === 'assignments' ? removeAssignment(text, map, entry) : undefined),
  writeScalar: writeString,
  writeKey: (key) => (isIdentifier(key) ? key : writeString(key, undefined)),
  marks: { assign: ': ', list: ['[', ']'], map: ['{', '}'] },
});

function isIdentifier(text: string): boolean {
  return /^[A-Za-z_$][\w$]*$/.test(text);
}

/** A string keeps the quotes of the one before it; a template literal becomes a plain one where it must. */
function writeString(value: Scalar, before: string | undefined): string {
  if (typeof value !== 'string') return String(value);
  const quote = before?.startsWith('"') === true ? '"' : before?.startsWith('`') === true && !/[`\\]|\$\{/.test(value) ? '`' : "'";
  if (quote === '`') return `\`${value}\``;
  const body = JSON.stringify(value).slice(1, -1).replaceAll('\u2028', '\\u2028').replaceAll('\u2029', '\\u2029');
  // An end of a script element inside a string would end the script of a page that holds it.
  const safe = body.replaceAll('</script', '<\\/script');
  return quote === '"' ? `"${safe}"` : `'${safe.replaceAll('\\"', '"').replaceAll("'", "\\'")}'`;
}

function readJavaScript(text: string, options: Readonly<Record<string, unknown>>): Reading {
  const place = parseLiteralPlace(options['at']) ?? { kind: 'export' };
  let program: Program;
  try {
    program = parse(text, { ecmaVersion: 'latest', sourceType: 'module', allowHashBang: true, allowReturnOutsideFunction: true });
  } catch (error) {
    if (!(error instanceof SyntaxError) || !('pos' in error)) throw error;
    const start = Math.min(Number(error.pos), text.length);
    const message = error.message.replace(/ \(\d+:\d+\)$/, '');
    return {
      root: undefined,
      problems: [{ message: message.charAt(0).toLowerCase() + message.slice(1), start, end: Math.min(start + 1, text.length) }],
    };
  }
  if (place.kind === 'assignments') {
    const found: SyntaxProblem[] = [];
    return { root: rootOfAssignments(assignmentsIn(program.body, found), text.length), problems: found };
  }
  const found = findLiteral(program, place);
  if (found === undefined) return { root: undefined, problems: [{ message: `there is no ${describePlace(place)}`, start: 0, end: 0 }] };
  const problems: SyntaxProblem[] = [];
  return { root: rootOf(toNode(found, problems)), problems };
}

/** A literal that is not an object is a document with one entry, called `value`. */
export function rootOf(node: ValueNode): MapNode {
  // Nothing in brackets is a map as well as a list.
  if (node.kind === 'list' && node.items.length === 0) return { kind: 'map', entries: [], start: node.start, end: node.end };
  if (node.kind === 'map') return node;
  const { start, end } = node;
  return { kind: 'map', entries: [{ key: 'value', keyStart: start, keyEnd: start, value: node }], start, end };
}

function findLiteral(program: Program, place: LiteralPlace): Expression | undefined {
  for (const statement of program.body) {
    if (place.kind === 'export' && statement.type === 'ExportDefaultDeclaration' && 'type' in statement.declaration) {
      const { declaration } = statement;
      if (declaration.type === 'FunctionDeclaration' || declaration.type === 'ClassDeclaration') return undefined;
      return declaration.type === 'Identifier' ? (findAssigned(program.body, declaration.name) ?? declaration) : declaration;
    }
    if (place.kind === 'return' && statement.type === 'ReturnStatement') return statement.argument ?? undefined;
  }
  if (place.kind === 'assign') return findAssigned(program.body, place.name);
  return place.kind === 'call' ? findArgument(program.body, place) : undefined;
}

function findAssigned(body: Program['body'], name: string): Expression | undefined {
  for (const statement of body) {
    const inner = statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement;
    if (inner?.type === 'VariableDeclaration') {
      const declared = inner.declarations.find(({ id }) => id.type === 'Identifier' && id.name === name);
      if (declared?.init) return declared.init;
    } else if (inner?.type === 'ExpressionStatement' && inner.expression.type === 'AssignmentExpression') {
      if (nameOf(inner.expression.left) === name) return inner.expression.right;
    }
  }
  return undefined;
}

function findArgument(body: Program['body'], place: Extract<LiteralPlace, { kind: 'call' }>): Expression | undefined {
  for (const statement of body) {
    const call =
      statement.type === 'ExpressionStatement'
        ? statement.expression
        : statement.type === 'ExportDefaultDeclaration'
          ? statement.declaration
          : undefined;
    if (call === undefined || !('type' in call) || call.type !== 'CallExpression' || nameOf(call.callee) !== place.name) continue;
    const argument = call.arguments[place.argument - 1];
    if (argument !== undefined && argument.type !== 'SpreadElement') return argument;
  }
  return undefined;
}

/** The assignments of the statements at the top, to variables and their members. */
function assignmentsIn(body: Program['body'], problems: SyntaxProblem[]): Assignment[] {
  return body.flatMap((statement): Assignment[] => {
    const inner = statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement;
    if (inner?.type === 'VariableDeclaration')
      return inner.declarations.flatMap(({ id, init }) =>
        id.type !== 'Identifier' || !init ? [] : [{ path: [id.name], keyStart: id.start, keyEnd: id.end, value: toNode(init, problems) }],
      );
    if (inner?.type !== 'ExpressionStatement' || inner.expression.type !== 'AssignmentExpression') return [];
    const { left, right, operator } = inner.expression;
    const path = operator === '=' ? targetOf(left) : undefined;
    const last = left.type === 'MemberExpression' ? left.property : left;
    return path === undefined ? [] : [{ path, keyStart: last.start, keyEnd: last.end, value: toNode(right, problems) }];
  });
}

/** `look.options["a b"]` as a path; undefined when a part of it is known only when the code runs. */
function targetOf(node: AnyNode): string[] | undefined {
  if (node.type === 'Identifier') return [node.name];
  if (node.type !== 'MemberExpression') return undefined;
  const before = targetOf(node.object);
  const { property, computed } = node;
  const key = !computed && property.type === 'Identifier' ? property.name : computed ? constantOf(property) : undefined;
  return before === undefined || (typeof key !== 'string' && typeof key !== 'number') ? undefined : [...before, String(key)];
}

/** `a.b.c` for members, `a` for an identifier. */
function nameOf(node: AnyNode): string | undefined {
  if (node.type === 'Identifier') return node.name;
  if (node.type !== 'MemberExpression' || node.computed) return undefined;
  const object = nameOf(node.object);
  const property = nameOf(node.property);
  return object === undefined || property === undefined ? undefined : `${object}.${property}`;
}

function toNode(node: AnyNode, problems: SyntaxProblem[]): ValueNode {
  const { start, end } = node;
  const constant = constantOf(node);
  if (constant !== undefined) return { kind: 'scalar', value: constant, isQuoted: typeof constant === 'string', start, end };
  if (node.type === 'ArrayExpression') {
    const items = node.elements.map((item) =>
      item === null ? ({ kind: 'unknown', reason: 'an empty place', start, end: start } as const) : toNode(item, problems),
    );
    return { kind: 'list', items, start, end };
  }
  if (node.type === 'ObjectExpression') return { kind: 'map', entries: entriesOf(node, problems), start, end };
  return { kind: 'unknown', reason: 'it is known only when the code runs', start, end };
}

function entriesOf(node: ObjectExpression, problems: SyntaxProblem[]): MapEntry[] {
  const entries = node.properties.flatMap((property): MapEntry[] => {
    if (property.type === 'SpreadElement' || property.computed) return [];
    const { key } = property;
    const name = key.type === 'Identifier' ? key.name : key.type === 'Literal' ? String(key.value) : undefined;
    if (name === undefined || name === '__proto__') return [];
    return [{ key: name, keyStart: key.start, keyEnd: key.end, value: toNode(property.value, problems) }];
  });
  for (const problem of duplicateKeys(entries)) problems.push(problem);
  return entries;
}

/** The value of a constant expression; undefined when it is not constant. */
function constantOf(node: AnyNode): Scalar | undefined {
  if (node.type === 'Literal')
    return typeof node.value === 'string' ||
      typeof node.value === 'number' ||
      typeof node.value === 'boolean' ||
      (node.value === null && node.raw === 'null')
      ? node.value
      : undefined;
  if (node.type === 'TemplateLiteral' && node.expressions.length === 0) return node.quasis[0]?.value.cooked ?? undefined;
  if (node.type === 'UnaryExpression' && node.operator === '-') {
    const inner = constantOf(node.argument);
    return typeof inner === 'number' ? -inner : undefined;
  }
  if (node.type !== 'BinaryExpression' || node.operator !== '+' || node.left.type === 'PrivateIdentifier') return undefined;
  const left = constantOf(node.left);
  const right = constantOf(node.right);
  return typeof left === 'string' && typeof right === 'string' ? left + right : undefined;
}
