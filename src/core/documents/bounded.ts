import { isNestedTooDeeply } from '../text/nesting.ts';
import type { Reading, Syntax } from './syntax.ts';

const MAX_LENGTH = 1 << 20;

/** A syntax that reads no document without bounds: a hostile one must not take minutes, or end the program. */
export function bounded(syntax: Syntax): Syntax {
  const { maxLength = MAX_LENGTH, isMarkup } = syntax;
  // One that reads a part of a file looks for it line by line, and no parser goes down into the rest.
  const isTooDeep = (text: string): boolean => syntax.isPart !== true && isNestedTooDeeply(text, isMarkup);
  const refused = (message: string): Reading => ({ root: undefined, problems: [{ message, start: 0, end: 1 }] });
  return {
    ...syntax,
    begin(text, options, path) {
      if (text.length > maxLength || isTooDeep(text)) return undefined;
      try {
        return syntax.begin?.(text, options, path);
      } catch (error) {
        if (error instanceof RangeError) return undefined;
        throw error;
      }
    },
    read(text, options) {
      if (text.length > maxLength) return refused(`it is too large for a document: more than ${maxLength >> 10} Ki characters`);
      if (isTooDeep(text)) return refused('it is nested too deeply, or its brackets do not fit');
      try {
        return syntax.read(text, options);
      } catch (error) {
        // A parser that goes down into itself has come to the end of the stack.
        if (error instanceof RangeError) return refused('it is nested too deeply, or too long');
        throw error;
      }
    },
  };
}
