/** Deeper than any manifest or configuration file, and far from where a recursive parser runs out of stack. */
const MAX_DEPTH = 200;

/**
 * Whether a YAML text opens so many brackets, lists or maps within each other that its parser would take for ever, or
 * end the program when memory for a pattern cannot be had so deep down. What stands in strings and comments counts too.
 */
export function isNestedTooDeeply(yaml: string): boolean {
  let depth = 0;
  for (const [bracket] of yaml.matchAll(/[[\]{}]/g)) {
    depth = bracket === '[' || bracket === '{' ? depth + 1 : Math.max(0, depth - 1);
    if (depth > MAX_DEPTH) return true;
  }
  return /^[ \t]{400}|(?:[-?][ \t]+){200}/m.test(yaml);
}
