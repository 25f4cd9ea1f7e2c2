import type { ComparedPackage, Comparison } from '../../core/rules/engine/compare-checks.ts';
import type { Finding } from '../../core/rules/engine/check.ts';
import { count, digits } from '../../core/text/sentence.ts';
import { placeFrom } from './places.ts';
import type { Paint } from './paint.ts';

/** So many packages of a kind, and rules, are listed without --verbose. */
const MOST = 20;

type State = ComparedPackage['state'];

/** The words for so many packages of a state. */
const SAID: readonly (readonly [State, (packages: number) => string])[] = [
  ['broke', (n) => `${digits(n)} broke`],
  ['fixed', (n) => `${digits(n)} fixed`],
  ['worse', (n) => `${digits(n)} with more findings`],
  ['better', (n) => `${digits(n)} with fewer`],
  ['same', (n) => `${digits(n)} as before`],
  ['new', (n) => `${digits(n)} new`],
  ['gone', (n) => `${digits(n)} gone`],
];

export function countsOf({ packages }: Comparison): Record<State, number> {
  const counts: Record<State, number> = { broke: 0, fixed: 0, worse: 0, better: 0, same: 0, new: 0, gone: 0 };
  for (const { state } of packages) counts[state]++;
  return counts;
}

/** @param currentFolder where people are, for the places of packages; absolute, as their folders are */
export function comparisonText(comparison: Comparison, paint: Paint, currentFolder: string, isWhole: boolean): string {
  const { packages, rules } = comparison;
  const most = isWhole ? Infinity : MOST;
  const blocks = [headText(comparison, paint)];
  if (rules.length > 0) blocks.push(rulesText(comparison, paint, most));
  for (const [state, title] of [
    ['broke', 'Broke'],
    ['worse', 'More findings'],
    ['fixed', 'Fixed'],
  ] as const) {
    const own = packages.filter((each) => each.state === state);
    if (own.length > 0) blocks.push(groupText(title, own, paint, currentFolder, most));
  }
  return blocks.join('\n\n');
}

function headText(comparison: Comparison, paint: Paint): string {
  const counts = countsOf(comparison);
  const parts = SAID.flatMap(([state, say]) => (counts[state] > 0 ? [say(counts[state])] : []));
  const mark = counts.broke > 0 ? paint.bad('✗') : counts.worse > 0 ? paint.warn('▲') : paint.good('✓');
  return `${mark} ${count(comparison.packages.length, 'package')}: ${parts.join(', ')}`;
}

function rulesText({ rules }: Comparison, paint: Paint, most: number): string {
  const shown = rules.slice(0, most);
  const width = Math.max(...shown.map(({ rule }) => rule.length), 4);
  const columns = (broke: string, came: string, went: string, packages: string): string =>
    [broke, came, went, packages].map((each) => each.padStart(9)).join('');
  const lines = shown.map(
    ({ rule, broke, came, went, packages }) =>
      `  ${rule.padEnd(width)}${columns(digits(broke), `+${digits(came)}`, `−${digits(went)}`, digits(packages))}`,
  );
  const head = `${paint.strong('By rule'.padEnd(width + 2))}${paint.faint(columns('broke', 'came', 'went', 'packages'))}`;
  return [head, ...lines, ...moreText(rules.length - shown.length, 'rule', paint)].join('\n');
}

function groupText(title: string, packages: readonly ComparedPackage[], paint: Paint, currentFolder: string, most: number): string {
  const lines = packages.slice(0, most).map(({ folder, came, went }) => {
    const changed = [...tallied(came, '+'), ...tallied(went, '−')].join(', ');
    return `  ${placeFrom(currentFolder, folder, '')}  ${paint.faint(changed)}`;
  });
  return [paint.strong(title), ...lines, ...moreText(packages.length - lines.length, 'package', paint)].join('\n');
}

/** Rules, each with how many findings of it there are. */
function tallied(findings: readonly Finding[], sign: string): string[] {
  const counts = new Map<string, number>();
  for (const { rule } of findings) counts.set(rule, (counts.get(rule) ?? 0) + 1);
  return [...counts].map(([rule, times]) => `${sign}${times} ${rule}`);
}

function moreText(left: number, what: string, paint: Paint): string[] {
  return left <= 0 ? [] : [`${paint.name('→')} ${count(left, `more ${what}`)}: --verbose shows all.`];
}
