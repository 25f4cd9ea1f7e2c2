import type { KitProblem } from '../../core/scaffold/check-kit.ts';
import type { Paint } from './paint.ts';

/** The problems of themes that were made of a kit: each once, with the trials in which it shows; at most so many. */
export function kitProblemLines(problems: readonly KitProblem[], tried: number, paint: Paint, most: number): string[] {
  const groups = [...groupProblems(problems)];
  const shown = groups.slice(0, most);
  return [
    ...shown.map(([text, trials]) => `  ${text}  ${paint.faint(`(${trialsText(trials, tried)})`)}`),
    ...(shown.length < groups.length ? [paint.faint(`  … and ${groups.length - shown.length} more (--verbose shows all)`)] : []),
  ];
}

function groupProblems(problems: readonly KitProblem[]): Map<string, KitProblem[]> {
  const groups = new Map<string, KitProblem[]>();
  for (const each of problems) groups.set(kitProblemText(each), [...(groups.get(kitProblemText(each)) ?? []), each]);
  return groups;
}

function trialsText(trials: readonly KitProblem[], tried: number): string {
  const [first] = trials;
  const without = first === undefined || first.without.length === 0 ? '' : ` without ${first.without.join(', ')}`;
  return trials.length === tried ? 'in all of them' : `in ${trials.length} of them, first as “${first?.id}”${without}`;
}

export function kitProblemText({ problem }: KitProblem): string {
  if ('what' in problem) return problem.what;
  if ('rule' in problem) return `${problem.file}:${problem.line} ${problem.message} (${problem.rule})`;
  return `${problem.file}:${problem.line} the kit’s name is left: ${problem.text}`;
}
