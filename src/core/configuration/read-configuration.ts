import { isNode, isPair, isScalar, LineCounter, parseDocument, type Document } from 'yaml';
import type { z } from 'zod';
import { ConfigurationError, type ConfigurationProblem } from '../errors.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { isNestedTooDeeply } from '../text/nesting.ts';
import { nearest } from '../text/nearest.ts';
import { didYouMean } from '../text/sentence.ts';
import { keysAt } from './schema-keys.ts';

/**
 * Reads one of our YAML files (platform, kit, configuration) and checks it against its schema.
 * @param complete makes what is checked of what the file holds
 * @throws ConfigurationError that names every problem with file, line and column.
 */
export function readConfiguration<T>(
  source: SourceDocument,
  schema: z.ZodType<T>,
  what: string,
  complete = (given: unknown): unknown => given,
): T {
  const document = parseYaml(source, what);
  const result = schema.safeParse(complete(valuesOf(document, source, what)));
  if (result.success) return result.data;
  const problems = result.error.issues.flatMap((issue) => explainIssue(schema, issue, document, source));
  throw new ConfigurationError({
    what: `${source.file} is not a valid ${what}`,
    hint: 'fix the places named above',
    problems,
  });
}

/** Reads one of our YAML files as plain values, whatever they are. @throws ConfigurationError when it is not YAML */
export function readValues(source: SourceDocument, what: string): unknown {
  return valuesOf(parseYaml(source, what), source, what);
}

/** The file as plain values. Aliases that unfold to a bomb are refused by the library, and so by us. */
function valuesOf(document: Document, source: SourceDocument, what: string): unknown {
  try {
    return document.toJS({ maxAliasCount: 100 }) ?? {};
  } catch (cause) {
    throw new ConfigurationError({
      what: `${source.file} is not a valid ${what}: its aliases unfold to too much`,
      hint: 'write the values out',
      cause,
    });
  }
}

/** A plan lists every place of a rename; what people write by hand is shorter than this. */
const MAX_LENGTH = 1 << 18;
const PLAN = 'rename plan';

/** Parses YAML; syntax errors become a ConfigurationError with positions. */
function parseYaml(source: SourceDocument, what: string): Document {
  if (what !== PLAN && source.text.length > MAX_LENGTH)
    throw new ConfigurationError({
      what: `${source.file} is not a valid ${what}: it is too large`,
      why: `it has more than ${MAX_LENGTH >> 10} Ki characters`,
    });
  if (isNestedTooDeeply(source.text))
    throw new ConfigurationError({ what: `${source.file} is not a valid ${what}: it is nested too deeply` });
  const lines = new LineCounter();
  const document = parseDocument(source.text, { lineCounter: lines, prettyErrors: false });
  if (document.errors.length > 0) {
    throw new ConfigurationError({
      what: `${source.file} is not a valid ${what}: its YAML cannot be read`,
      problems: document.errors.map((error) => problemAt(source, error.pos[0], error.message)),
    });
  }
  return document;
}

/** A problem at the entry of a key path of a configuration file that could be read. */
export function problemAtPath(source: SourceDocument, path: readonly (string | number)[], message: string): ConfigurationProblem {
  return problemAt(source, offsetOf(parseDocument(source.text), path, false), message);
}

/** The place of a value in a configuration file that could be read, in 0-based offsets: an acceptance, a setting. */
export function rangeAtPath(source: SourceDocument, path: readonly (string | number)[]): { readonly start: number; readonly end: number } {
  const document = parseDocument(source.text);
  const start = offsetOf(document, path, false);
  const node = document.getIn(path, true);
  return { start, end: isNode(node) ? (node.range?.[1] ?? start) : start };
}

/** A problem at a 0-based offset of a configuration file. */
function problemAt(source: SourceDocument, offset: number, message: string): ConfigurationProblem {
  const { line, column } = source.positionAt(offset);
  return { file: source.file, line, column, message, sourceLine: source.lineAt(line) };
}

type Issue = z.core.$ZodIssue;

function explainIssue(schema: z.ZodType, given: Issue, document: Document, source: SourceDocument): ConfigurationProblem[] {
  const issue = likeliestOfUnion(given);
  const path = issue.path.map((part) => (typeof part === 'symbol' ? String(part) : part));
  if (issue.code === 'unrecognized_keys') {
    const known = keysAt(schema, path);
    return issue.keys.map((key) => {
      const near = nearest(key, known);
      const hint = didYouMean(near, known.length > 0 ? `known: ${known.join(', ')}` : '');
      return problemAt(
        source,
        offsetOf(document, [...path, key], true),
        `“${[...path, key].join('.')}” is not known here${hint === '' ? '' : `; ${hint}`}`,
      );
    });
  }
  const name = path.length === 0 ? 'the file' : `“${path.join('.')}”`;
  return [problemAt(source, offsetOf(document, path, false), `${name} ${wording(issue, document.getIn(path))}`)];
}

/** Of the alternatives of a union, the one that fits best is what its author meant to write. */
function likeliestOfUnion(issue: Issue): Issue {
  if (issue.code !== 'invalid_union') return issue;
  const branches = issue.errors.toSorted((a, b) => depthOf(b) - depthOf(a) || a.length - b.length);
  // A text is held against the alternative that is a text, a map against the one that is a map.
  const ofItsKind = branches.filter(([first]) => first?.code !== 'invalid_type' || first.path.length > 0);
  const only = ofItsKind.length === 1 ? ofItsKind[0]?.[0] : undefined;
  if (only !== undefined) return likeliestOfUnion({ ...only, path: [...issue.path, ...only.path] });
  const inner = branches[0]?.[0];
  if (inner === undefined || (branches.length > 1 && depthOf(branches[0] ?? []) === depthOf(branches[1] ?? []))) return issue;
  return likeliestOfUnion({ ...inner, path: [...issue.path, ...inner.path] });
}

function depthOf(issues: readonly Issue[]): number {
  return Math.max(0, ...issues.map((issue) => issue.path.length + (issue.code === 'unrecognized_keys' ? 1 : 0)));
}

/** How YAML’s authors call what a schema expects and what it received. */
const KINDS: Readonly<Record<string, string>> = {
  record: 'a map',
  object: 'a map',
  array: 'a list',
  string: 'a text',
  number: 'a number',
  boolean: 'true or false',
  null: 'nothing',
};

/** @param given what stands there */
function wording(issue: Issue, given: unknown): string {
  switch (issue.code) {
    case 'invalid_type':
      return issue.message.endsWith('received undefined')
        ? `is missing (${KINDS[issue.expected] ?? issue.expected} expected)`
        : `is wrong: ${issue.message.replace(/^Invalid input: /, '').replace(/(?<=expected |received )\w+/g, (kind) => KINDS[kind] ?? kind)}`;
    case 'invalid_value':
      return `must be ${issue.values.length > 1 ? 'one of ' : ''}${issue.values.map((value) => JSON.stringify(value)).join(', ')}${meant(issue.values, given)}`;
    case 'invalid_union':
      return 'has a form that is not known here';
    default:
      return `is wrong: ${issue.message.charAt(0).toLowerCase()}${issue.message.slice(1)}`;
  }
}

function meant(values: readonly unknown[], given: unknown): string {
  const near =
    typeof given === 'string' && values.length > 1
      ? nearest(
          given,
          values.filter((value) => typeof value === 'string'),
        )
      : undefined;
  return near === undefined ? '' : `; ${didYouMean(near, '')}`;
}

/** The offset of the node at a path; of the nearest node above it when it is missing. */
function offsetOf(document: Document, path: readonly (string | number)[], wantKey: boolean): number {
  for (let length = path.length; length > 0; length--) {
    const parent = length === 1 ? document.contents : document.getIn(path.slice(0, length - 1), true);
    const key = path[length - 1];
    if (!isNode(parent) || !('items' in parent)) continue;
    for (const item of parent.items) {
      if (isPair(item) && isScalar(item.key) && String(item.key.value) === String(key)) {
        const target = !wantKey && isNode(item.value) ? item.value : item.key;
        return target.range?.[0] ?? 0;
      }
    }
    const node = document.getIn(path.slice(0, length), true);
    if (isNode(node)) return node.range?.[0] ?? 0;
  }
  return 0;
}
