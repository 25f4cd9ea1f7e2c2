import { Script } from 'node:vm';
import { parseXml, XmlError } from '@rgrove/parse-xml';
import { parse } from 'acorn';
import { parseTree, printParseErrorCode, type ParseError } from 'jsonc-parser';
import { hasDeepBrackets, isNestedTooDeeply } from '../text/nesting.ts';
import { phpProblem } from './php.ts';
import { problemOfSheet } from './sheet-problem.ts';
import type { SyntaxProblem } from './syntax.ts';

/** Longer files are not read for their syntax alone: it would take longer than all other checks together. */
const MAX_LENGTH = 1 << 19;
/** What our own parsers of scripts and of PHP get: they take longer than the engine’s. */
const MAX_SCRIPT = 1 << 18;
const MAX_PHP = 1 << 16;

type Judge = (text: string, file: string) => SyntaxProblem | undefined;

/** By file ending: what the parser at hand has to say. Languages that are made into others first are not judged. */
const JUDGES: Readonly<Record<string, Judge>> = {
  // From each sign of a run like this in a string, the parser reads to its end.
  php: unlessDeep((text) => (text.length > MAX_PHP || /\${500}/.test(text) ? undefined : phpProblem(text))),
  ...{ js: scriptProblem, cjs: scriptProblem, mjs: scriptProblem },
  json: unlessDeep(jsonProblem),
  ...{ xml: unlessDeep(xmlProblem, true), svg: unlessDeep(xmlProblem, true) },
  css: problemOfSheet,
};

/** A parser that goes down into itself is not given what it would not come out of. */
function unlessDeep(judge: Judge, isMarkup = false): Judge {
  return (text, file) => ((isMarkup ? isNestedTooDeeply(text, true) : hasDeepBrackets(text)) ? undefined : judge(text, file));
}

/** The first error that the language of a file sees; undefined when nothing is wrong, or no parser here reads it. */
export function problemOfCode(file: string, text: string): SyntaxProblem | undefined {
  const ending = /\.(\w+)$/.exec(file)?.[1]?.toLowerCase() ?? '';
  const judge = Object.hasOwn(JUDGES, ending) ? JUDGES[ending] : undefined;
  if (judge === undefined || text.length > MAX_LENGTH) return undefined;
  try {
    return judge(text, file);
  } catch (error) {
    // A parser that goes down into itself has come to the end of the stack.
    if (error instanceof RangeError) return undefined;
    throw error;
  }
}

/** A script is right when it is right as a module or as a classic script. */
function scriptProblem(text: string, file: string): SyntaxProblem | undefined {
  return isClassicScript(text) || text.length > MAX_SCRIPT ? undefined : problemOfScript(text, file);
}

/** The engine's own parser is twenty times as quick as any other, but says nothing of modules. It reads the text and runs nothing. */
function isClassicScript(text: string): boolean {
  try {
    return new Script(text) instanceof Script;
  } catch {
    return false;
  }
}

const problemOfScript = unlessDeep((text) => {
  let problem: SyntaxProblem | undefined;
  for (const sourceType of ['module', 'script'] as const) {
    try {
      parse(text, { ecmaVersion: 'latest', sourceType, allowHashBang: true, allowReturnOutsideFunction: true });
      return undefined;
    } catch (error) {
      if (!(error instanceof SyntaxError) || !('pos' in error)) throw error;
      // Where its stack ends, the parser says so as of a mistake: nobody knows whether there is one.
      if (error.message.startsWith('Not enough stack space')) return undefined;
      // JSX, and scripts that a server fills in first, are languages of their own.
      if (/^<[\w>?/]/.test(text.slice(Number(error.pos), Number(error.pos) + 2))) return undefined;
      problem ??= problemAt(text, Number(error.pos), error.message.replace(/ \(\d+:\d+\)$/, ''));
    }
  }
  return problem;
});

/** RFC 8259, with comments and trailing commas: who reads the file is not known. */
function jsonProblem(text: string): SyntaxProblem | undefined {
  const errors: ParseError[] = [];
  parseTree(text, errors, { allowTrailingComma: true });
  const [first] = errors;
  return first === undefined
    ? undefined
    : problemAt(
        text,
        first.offset,
        printParseErrorCode(first.error)
          .replace(/([a-z])([A-Z])/g, '$1 $2')
          .toLowerCase(),
      );
}

function xmlProblem(text: string): SyntaxProblem | undefined {
  // Entities of a document's own (XML 1.0, 4.2) are not read here; drawing programs write them.
  if (text.includes('<!ENTITY')) return undefined;
  try {
    parseXml(text);
    return undefined;
  } catch (error) {
    if (!(error instanceof XmlError)) throw error;
    return problemAt(text, error.pos, error.message.split(/ \(line|\n/)[0] ?? '');
  }
}

function problemAt(text: string, offset: number, message: string): SyntaxProblem {
  const start = Math.max(0, Math.min(offset, text.length));
  return { message: message.charAt(0).toLowerCase() + message.slice(1), start, end: Math.min(start + 1, text.length) };
}
