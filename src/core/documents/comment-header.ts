import type { Reading, Syntax, SyntaxProblem } from './syntax.ts';
import { readYaml, removeYaml, renameYamlKey, setYaml } from './yaml.ts';

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
  read(text, options): Reading {
    const header = findHeader(text, options);
    return 'yaml' in header ? readYaml(header.yaml, header.base) : { root: undefined, problems: [header] };
  },
  set(text, path, value, context) {
    const header = findHeader(text, context.options);
    return 'yaml' in header ? setYaml(header.yaml, header.base, path, value, context) : [];
  },
  remove(text, path, context) {
    const header = findHeader(text, context.options);
    return 'yaml' in header ? removeYaml(header.yaml, header.base, path) : [];
  },
  renameKey(text, path, key, context) {
    const header = findHeader(text, context.options);
    return 'yaml' in header ? renameYamlKey(header.yaml, header.base, path, key) : [];
  },
};

function findHeader(text: string, options: Readonly<Record<string, unknown>>): Header | SyntaxProblem {
  const open = textOption(options, 'open', '/*---');
  const close = textOption(options, 'close', '---*/');
  const start = text.indexOf(open);
  if (start < 0) {
    return { message: `there is no header: “${open}” is missing`, hint: `begin the file with “${open}”`, start: 0, end: 0 };
  }
  if (text.slice(0, start).trim() !== '') {
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

function textOption(options: Readonly<Record<string, unknown>>, name: string, fallback: string): string {
  const value = options[name];
  return typeof value === 'string' ? value : fallback;
}
