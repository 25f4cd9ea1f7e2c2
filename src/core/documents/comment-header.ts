import type { TextEdit, TextRange } from '../text/edits.ts';
import type { MapNode, Reading, Syntax, SyntaxProblem, ValueNode, WriteContext } from './syntax.ts';
import { bounded } from './bounded.ts';
import { isAtHead, putAtHead } from './header-lines.ts';
import { yamlSyntax } from './yaml.ts';

const boundedYaml = bounded(yamlSyntax);

interface Header {
  /** The YAML between the opening and the closing mark. */
  readonly yaml: string;
  /** Where it begins in the file. */
  readonly base: number;
}

/**
 * A comment at the head of a file that holds YAML. Options: `open` and `close`, the marks that stand around it.
 */
export const commentHeaderSyntax: Syntax = {
  name: 'comment-header',
  isPart: true,
  readsTypes: true,
  read(text, options): Reading {
    const header = findHeader(text, options);
    if (!('yaml' in header)) return { root: undefined, problems: [header] };
    const { root, problems } = boundedYaml.read(header.yaml, {});
    return {
      root: root === undefined ? undefined : (shiftNode(root, header.base) as MapNode),
      problems: problems.map((problem) => shift(problem, header.base)),
    };
  },
  begin(text, options) {
    const [open, close] = marksOf(options);
    return text.includes(open) ? undefined : putAtHead(text, `${open}\n${close}`);
  },
  set: (text, path, value, context) => inHeader(text, context, (yaml) => yamlSyntax.set(yaml, path, value, context)),
  remove: (text, path, context) => inHeader(text, context, (yaml) => yamlSyntax.remove(yaml, path, context)),
  renameKey: (text, path, key, context) => inHeader(text, context, (yaml) => yamlSyntax.renameKey(yaml, path, key, context)),
};

/** Lets the YAML's edits be made, and moves them to where the YAML stands in the file. */
function inHeader(text: string, context: WriteContext, edit: (yaml: string) => TextEdit[]): TextEdit[] {
  const header = findHeader(text, context.options);
  return 'yaml' in header ? edit(header.yaml).map((each) => shift(each, header.base)) : [];
}

function shift<T extends TextRange>(range: T, base: number): T {
  return { ...range, start: range.start + base, end: range.end + base };
}

function shiftNode(node: ValueNode, base: number): ValueNode {
  const moved = shift(node, base);
  if (moved.kind === 'list') return { ...moved, items: moved.items.map((item) => shiftNode(item, base)) };
  if (moved.kind !== 'map') return moved;
  const entries = moved.entries.map((entry) => ({
    ...entry,
    keyStart: entry.keyStart + base,
    keyEnd: entry.keyEnd + base,
    value: shiftNode(entry.value, base),
  }));
  return { ...moved, entries };
}

function findHeader(text: string, options: Readonly<Record<string, unknown>>): Header | SyntaxProblem {
  const [open, close] = marksOf(options);
  const start = text.indexOf(open);
  if (start < 0) {
    return { message: `there is no header: “${open}” is missing`, hint: `begin the file with “${open}”`, start: 0, end: 0 };
  }
  if (!isAtHead(text, start)) {
    return {
      message: 'the header is not at the beginning of the file',
      hint: 'move what stands before it to a place after it',
      start,
      end: start + open.length,
    };
  }
  const base = start + open.length;
  const end = text.indexOf(close, base);
  if (end < 0) {
    return { message: `the header is not closed: “${close}” is missing`, hint: `write “${close}” after its last field`, start, end: base };
  }
  return { yaml: text.slice(base, end), base };
}

/** What opens and closes the header. */
function marksOf(options: Readonly<Record<string, unknown>>): readonly [open: string, close: string] {
  return [textOption(options, 'open', '/*---'), textOption(options, 'close', '---*/')];
}

function textOption(options: Readonly<Record<string, unknown>>, name: string, fallback: string): string {
  const value = options[name];
  return typeof value === 'string' ? value : fallback;
}
