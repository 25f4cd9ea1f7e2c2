import { beginEmpty } from './lines.ts';
import { parseTree, printParseErrorCode, type Node, type ParseError } from 'jsonc-parser';
import { duplicateKeys, structuredSyntax } from './structured.ts';
import type { MapEntry, Reading, SyntaxProblem, ValueNode } from './syntax.ts';

/**
 * JSON after RFC 8259. Hosts read their manifests strictly; with the option `lenient: true` comments, trailing commas and a
 * byte-order mark are allowed.
 */
export const jsonSyntax = structuredSyntax({
  name: 'json',
  maxLength: 1 << 19,
  refusesMark: (options) => options['lenient'] !== true,
  begin: (text) => beginEmpty(text, '{}\n'),
  read: (text, options) => readJson(text, options['lenient'] === true),
  writeScalar: (value) => JSON.stringify(value),
  writeKey: (key) => JSON.stringify(key),
  marks: { assign: ': ', list: ['[', ']'], map: ['{', '}'] },
});

function readJson(text: string, isLenient: boolean): Reading {
  const errors: ParseError[] = [];
  const tree: Node | undefined = parseTree(text, errors, { allowTrailingComma: isLenient, disallowComments: !isLenient });
  const problems: SyntaxProblem[] = errors.map(({ error, offset, length }) => ({
    message: printParseErrorCode(error)
      .replace(/([a-z])([A-Z])/g, '$1 $2')
      .toLowerCase(),
    start: offset,
    end: offset + Math.max(1, length),
  }));
  const root = tree === undefined ? undefined : toNode(tree, problems);
  if (root?.kind !== 'map' && problems.length === 0)
    problems.push({ message: 'an object with fields is expected here', start: tree?.offset ?? 0, end: text.length });
  return { root: root?.kind === 'map' ? root : undefined, problems };
}

function toNode(node: Node, problems: SyntaxProblem[]): ValueNode {
  const range = { start: node.offset, end: node.offset + node.length };
  switch (node.type) {
    case 'object': {
      const entries = (node.children ?? []).flatMap((property): MapEntry[] => {
        const [key, value] = property.children ?? [];
        if (key === undefined || value === undefined) return [];
        return [{ key: String(key.value), keyStart: key.offset, keyEnd: key.offset + key.length, value: toNode(value, problems) }];
      });
      for (const problem of duplicateKeys(entries)) problems.push(problem);
      return { kind: 'map', entries, ...range };
    }
    case 'array':
      return { kind: 'list', items: (node.children ?? []).map((child) => toNode(child, problems)), ...range };
    case 'property':
      return { kind: 'unknown', reason: 'a lone property', ...range };
    default:
      return { kind: 'scalar', value: node.value as string | number | boolean | null, isQuoted: node.type === 'string', ...range };
  }
}
