import type { Confusable, IdProblem, IdVerdict, NamePlace } from '../../core/placing/judge-id.ts';
import type { Paint } from './paint.ts';

/** Why an id cannot be used, as a sentence's rest. */
export function idProblemText(problem: IdProblem, shown: (path: string) => string): string {
  switch (problem.code) {
    case 'grammar':
      return problem.problem;
    case 'taken':
      return `the theme in ${shown(problem.folder)} ${problem.id === '' ? 'has it' : `is called ${problem.id}`}`;
    case 'brought':
      return 'a theme of that id comes with every host';
    case 'in-catalogue':
      return 'the catalogue has a theme of that name';
  }
}

const HOW: Readonly<Record<Confusable['how'], string>> = {
  separators: 'has the same letters',
  'look-alike': 'looks the same to a quick eye',
  slip: 'is one slip of the finger away',
};

const WHERE: Readonly<Record<NamePlace, string>> = {
  shelf: 'on the shelf',
  host: 'which belongs to the host',
  catalogue: 'in the catalogue',
};

/** What could be taken for another, as a sentence. */
export function confusableText({ id, how, where }: Confusable): string {
  return `“${id}”, ${WHERE[where]}, ${HOW[how]}`;
}

const WEIGHTS: Readonly<Record<IdVerdict['weight'], string>> = {
  distinctive: 'it can be renamed later without a question: wherever it stands, it means the theme',
  part: 'it is part of another theme’s id: a later rename asks where each place means this one',
  short: 'it is short: a later rename asks where a place does not show that it means the theme',
  common: 'it is a common word: a later rename changes it only where the place proves that it means the theme',
};

/** All there is to say of one id. */
export function idVerdictText(verdict: IdVerdict, paint: Paint, shown: (path: string) => string): string {
  const { id, problems, confusable, weight, written, alternatives } = verdict;
  const isUsable = problems.length === 0;
  const mark = !isUsable ? paint.bad('✗') : confusable.length > 0 || weight !== 'distinctive' ? paint.warn('▲') : paint.good('✓');
  const head = isUsable ? (confusable.length > 0 ? 'can be used, and could be taken for another' : 'can be used') : 'cannot be used';
  const lines = [`${mark} ${paint.strong(id)} ${head}`];
  for (const problem of problems) lines.push(`  ${paint.bad('−')} ${idProblemText(problem, shown)}`);
  for (const each of confusable) lines.push(`  ${paint.warn('−')} ${confusableText(each)}`);
  if (isUsable) {
    lines.push(`  ${paint.faint(WEIGHTS[weight])}`);
    const width = Math.max(0, ...written.map(({ where }) => where.length));
    for (const { where, text } of written) lines.push(`    ${paint.faint(where.padEnd(width))}  ${text}`);
  }
  if (alternatives.length > 0) lines.push(`  ${paint.name('→')} free: ${alternatives.join(', ')}`);
  return lines.join('\n');
}
