import { RE2JS } from 're2js';

/**
 * Regular expressions that come from outside (platform files), in the syntax of RE2: matched in linear time, whatever
 * they are. Look-around and references to groups do not belong to it.
 */
const compiled = new Map<string, RE2JS | undefined>();

function compile(pattern: string): RE2JS | undefined {
  if (!compiled.has(pattern)) compiled.set(pattern, compileNew(pattern));
  return compiled.get(pattern);
}

function compileNew(pattern: string): RE2JS | undefined {
  try {
    return RE2JS.compile(pattern);
  } catch {
    return undefined;
  }
}

/** Whether a text is a regular expression that can be matched in linear time. */
export function isPattern(text: string): boolean {
  return compile(text) !== undefined;
}

/** Whether a pattern matches anywhere in a text. */
export function matchesPattern(text: string, pattern: string): boolean {
  return compile(pattern)?.matcher(text).find() ?? false;
}

/** Whether a pattern matches a text from its beginning to its end. */
export function matchesWhole(text: string, pattern: string): boolean {
  return compile(pattern)?.matcher(text).matches() ?? false;
}

/** The named groups of the first match of a pattern in a text, those that took part; undefined when it does not match. */
export function groupsOfPattern(text: string, pattern: string, names: readonly string[]): Readonly<Record<string, string>> | undefined {
  const matcher = compile(pattern)?.matcher(text);
  if (matcher?.find() !== true) return undefined;
  const known = names.filter((name) => pattern.includes(`<${name}>`));
  return Object.fromEntries(known.map((name) => [name, matcher.group(name) ?? '']));
}

/** Makes a text one that a regular expression matches literally. */
export function escapePattern(text: string): string {
  return text.replace(/[\\^$.*+?()[\]{}|/-]/g, '\\$&');
}
