import * as z from 'zod';
import { problemOfGlob } from '../files/glob.ts';
import { isPattern } from '../text/pattern.ts';

/** The limits on places and patterns in a platform file from someone else: nothing leaves a folder, nothing runs away. */

/** Why a path leads, or could lead, out of the folder that it starts from; undefined when it does not. */
export function problemOfPlace(path: string): string | undefined {
  // eslint-disable-next-line no-control-regex
  if (/[\u0000-\u001f\u007f]/.test(path)) return 'it holds a control character';
  if (path.includes('\\')) return 'it holds a backslash: folders are divided by /';
  if (/^(?:[/~]|[a-z]:)/i.test(path)) return 'it must start from a folder of the theme or the host, not from the root of the disk';
  if (path.split('/').some((part) => part === '..' || part === '.')) return 'it must not hold the parts . and ..';
  return undefined;
}

/** A schema for a text with a check that says what is wrong. */
export function checkedText(...checks: readonly ((value: string) => string | undefined)[]) {
  return z.string().check((context) => {
    for (const check of checks) {
      const problem = check(context.value);
      if (problem === undefined) continue;
      context.issues.push({ code: 'custom', message: problem, input: context.value });
      return;
    }
  });
}

/** A path below a theme or a host; may hold placeholders. */
export const place = () => checkedText(problemOfPlace);

/** A glob of paths below a theme. */
export const glob = () => checkedText(problemOfPlace, problemOfGlob);

/** A pattern in the syntax of ignore files. */
export const ignorePattern = () => checkedText((value) => problemOfGlob(value.replace(/^[!/]/, '')));

/** A regular expression that is matched in linear time. */
export const pattern = () =>
  checkedText((value) =>
    isPattern(value)
      ? undefined
      : 'it is not a regular expression that can be matched in linear time: no look-ahead, look-behind or references to groups',
  );
