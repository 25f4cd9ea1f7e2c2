import type { Advice } from '../../src/core/rules/advice.ts';

/** An advice as its code and arguments, in a line. */
export function codeOf(advice: Advice | undefined): string | undefined {
  if (advice === undefined) return undefined;
  const args = Object.entries(advice.args).map(([name, value]) => `${name}: ${value}`);
  return args.length === 0 ? advice.code : `${advice.code} (${args.join(', ')})`;
}
