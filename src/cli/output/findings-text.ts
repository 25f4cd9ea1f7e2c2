import { withSlashes } from '../../core/files/paths.ts';
import type { CheckResult, Finding } from '../../core/rules/engine/check.ts';
import type { Severity } from '../../core/rules/rule.ts';
import { type Paint } from './paint.ts';
import { placeOfFile } from './places.ts';
import { count, digits, listed } from '../../core/text/sentence.ts';

const MARKS: Readonly<Record<Severity, string>> = { error: '✗', warning: '▲', note: '·' };

/** How many findings of each severity there are. */
export function tally(findings: readonly Finding[]): Record<Severity, number> {
  const tallied = { error: 0, warning: 0, note: 0 };
  for (const finding of findings) tallied[finding.severity]++;
  return tallied;
}

/** The subject of a headline. */
interface Headlined {
  readonly id: string;
  readonly platform: { readonly title: string };
  readonly result: Pick<CheckResult, 'findings' | 'files' | 'known'>;
  /** Set when it could not be opened. */
  readonly failure?: { readonly what: string } | undefined;
  /** Set when it is a file around themes: those that are not checked because of it. */
  readonly standsFor?: readonly string[] | undefined;
}

/** One line: what check found, and whether the host refuses the theme. @param shown where the theme is, as people would type it */
export function headline({ id, platform, result, failure, standsFor }: Headlined, paint: Paint, shown = id): string {
  const { findings } = result;
  const where = shown === id || shown === '.' ? '' : ` in ${shown}`;
  const ids = standsFor ?? [];
  if (ids.length > 0) return `${paint.bad('✗')} ${count(ids.length, 'theme')} cannot be checked: ${listed(ids, 6)}`;
  if (standsFor !== undefined) return `${paint.warn('▲')} ${paint.strong(id)}${paint.faint(where)}: ${tallyText(findings)}`;
  if (failure !== undefined) return `${paint.bad('✗')} ${failure.what}`;
  const who = `${paint.strong(id)} ${paint.faint(`(${platform.title}, ${count(result.files, 'file')})${where}`)}`;
  const { known = 0 } = result;
  if (findings.length === 0)
    return `${paint.good('✓')} ${who}: ${known === 0 ? 'no problems found' : `nothing new; ${digits(known)} known`}`;
  const refused = findings.some((finding) => finding.isRefusal);
  const verdict = refused ? `; ${paint.bad('the host refuses it')}` : '';
  const mark = tally(findings).error > 0 ? paint.bad('✗') : paint.warn('▲');
  return `${mark} ${who}: ${tallyText(findings)}${verdict}`;
}

/** A line that tells which of the findings matter to whom; none when neither the host nor a visitor notices any. */
export function impactText(findings: readonly Finding[], paint: Paint): string | undefined {
  const refused = findings.filter((finding) => finding.isRefusal).length;
  const seen = findings.filter((finding) => finding.isSeen).length;
  const parts = [
    ...(refused === 0 ? [] : [`the host refuses the theme for ${digits(refused)} of them`]),
    ...(seen === 0 ? [] : [`visitors of the site see ${digits(seen)}${refused === 0 ? ' of them' : ''}`]),
  ];
  return parts.length === 0 || findings.length < 2 ? undefined : paint.faint(`  ${parts.join('; ')}`);
}

function tallyText(findings: readonly Finding[]): string {
  return countsText(tally(findings));
}

function countsText({ error, warning, note }: Record<Severity, number>): string {
  const counts = [
    error > 0 ? count(error, 'error') : '',
    warning > 0 ? count(warning, 'warning') : '',
    note > 0 ? count(note, 'note') : '',
  ];
  return counts.filter((each) => each !== '').join(', ');
}

/** The last line when many themes were checked. */
export class Overview {
  readonly #tally: Record<Severity, number> = { error: 0, warning: 0, note: 0 };
  readonly #counts = { clean: 0, refused: 0, failed: 0 };
  themes = 0;
  /** Entries: themes, and files around them. */
  entries = 0;

  add({ result: { findings }, failure, standsFor }: Headlined): void {
    const own = tally(findings);
    for (const severity of ['error', 'warning', 'note'] as const) this.#tally[severity] += own[severity];
    this.entries++;
    this.themes += standsFor?.length ?? 1;
    this.#counts.failed += standsFor?.length ?? (failure === undefined ? 0 : 1);
    if (standsFor !== undefined) return;
    if (findings.length === 0) this.#counts.clean++;
    if (failure === undefined && findings.some(({ isRefusal }) => isRefusal)) this.#counts.refused++;
  }

  text(paint: Paint): string {
    const { clean, refused, failed } = this.#counts;
    const found = countsText(this.#tally);
    const unchecked = failed === 0 ? '' : paint.bad(`; ${digits(failed)} cannot be checked`);
    const taken = refused === 0 ? '' : paint.bad(`; the host refuses ${refused}`);
    const mark = found === '' ? paint.good('✓') : paint.warn('▲');
    return `${mark} ${count(this.themes, 'theme')}: ${clean} without problems${found === '' ? '' : `; ${found}`}${taken}${unchecked}`;
  }
}

/** So many findings of one rule are shown of a theme. */
export const MOST_OF_A_RULE = 25;

/** The first findings of each rule, and how many more it has: nobody reads the same sentence three thousand times. */
export function firstOfEach(findings: readonly Finding[], most: number): { shown: Finding[]; more: Map<string, number> } {
  const seen = new Map<string, number>();
  const shown = findings.filter(({ rule }) => {
    seen.set(rule, (seen.get(rule) ?? 0) + 1);
    return (seen.get(rule) ?? 0) <= most;
  });
  return { shown, more: new Map([...seen].flatMap(([rule, all]) => (all > most ? [[rule, all - most]] : []))) };
}

/**
 * Findings grouped by file, each with the line it stands in and what to do.
 * @param folder the theme's, as people would type it: places can then be followed from where they are
 */
export function findingsText(findings: readonly Finding[], paint: Paint, columns: number, folder = '.'): string {
  const blocks: string[] = [];
  let file: string | undefined;
  for (const finding of findings) {
    if (finding.file !== file) blocks.push(`${blocks.length > 0 ? '\n' : ''}${paint.strong(placeText(folder, finding.file))}`);
    file = finding.file;
    blocks.push(findingText(finding, paint, columns));
  }
  return blocks.join('\n');
}

function placeText(folder: string, file: string): string {
  if (file === '') return folder === '.' ? 'the theme' : folder;
  return withSlashes(placeOfFile(folder, file));
}

function findingText(finding: Finding, paint: Paint, columns: number): string {
  const colour = finding.severity === 'error' ? paint.bad : finding.severity === 'warning' ? paint.warn : paint.faint;
  // A finding without a file has no place in one.
  const place = (finding.file === '' && finding.length === 0 ? '' : `${finding.line}:${finding.column}`).padEnd(7);
  const indent = ' '.repeat(12);
  const [message = '', ...detail] = wrapped(finding.message, columns - indent.length);
  const lines = [`  ${paint.faint(place)} ${colour(MARKS[finding.severity])} ${message}`, ...detail.map((line) => indent + line)];
  if (finding.sourceLine !== undefined && finding.sourceLine.trim() !== '') lines.push(...markedLine(finding, paint, indent, columns));
  const fixed = finding.fix === undefined ? '' : finding.fix.isSafe ? ' (--fix does it)' : ' (--fix-suggested does it)';
  const hint = finding.hint === undefined ? [] : wrapped(`→ ${finding.hint.text}${fixed}`, columns - indent.length);
  // The arrow takes the color of what to do; the rule's id ends the last line where it fits.
  const painted = hint.map((line, i) => (i === 0 ? paint.name('→') + line.slice(1) : line).replace(fixed, paint.name(fixed)));
  const last = hint.at(-1) ?? '';
  const room = columns - indent.length - last.length - 2;
  if (room >= finding.rule.length) painted.push(`${painted.pop() ?? ''}${last === '' ? '' : '  '}${paint.faint(finding.rule)}`);
  else painted.push(paint.faint(finding.rule));
  lines.push(...painted.map((line) => indent + line));
  return lines.join('\n');
}

/** A sentence in lines of a width, cut at its joints or between words. */
export function wrapped(text: string, width: number): string[] {
  if (text.length <= width) return [text];
  // A joint near the end of the line is better than a word; one near its beginning leaves the line bare.
  const joint = Math.max(text.lastIndexOf('; ', width - 1), text.lastIndexOf(', ', width - 1));
  const cut = joint > width * 0.6 ? joint + 1 : text.lastIndexOf(' ', width);
  const end = cut > 20 ? cut : width;
  return [text.slice(0, end).trimEnd(), ...wrapped(text.slice(end).trimStart(), width)];
}

/** The source line with a marker under the place; long lines are cut around it. */
function markedLine(finding: Finding, paint: Paint, indent: string, columns: number): string[] {
  const line = finding.sourceLine ?? '';
  const room = Math.max(30, columns - indent.length - 4);
  const from = Math.max(0, Math.min(finding.column - 1 - Math.floor(room / 2), line.length - room));
  const shown = line.slice(from, from + room).replaceAll('\t', ' ');
  const offset = finding.column - 1 - from;
  const length = Math.max(1, Math.min(finding.length, shown.length - offset));
  return [`${indent}${paint.faint('│')} ${shown}`, `${indent}${paint.faint('│')} ${' '.repeat(offset)}${paint.warn('▔'.repeat(length))}`];
}

/** The closing lines: where to read why a rule exists, and the findings that can be fixed. */
export function closing(findings: readonly Finding[], more: ReadonlyMap<string, number>, paint: Paint): string {
  return moreText(more, '--verbose shows all', paint) + advice(findings, paint);
}

/** What of each rule was not shown, a line each. */
export function moreText(more: ReadonlyMap<string, number>, rest: string, paint: Paint): string {
  return [...more].map(([rule, left]) => `${paint.name('→')} ${count(left, 'more finding')} of ${rule}: ${rest}.\n`).join('');
}

function advice(findings: readonly Finding[], paint: Paint): string {
  const safe = findings.filter((finding) => finding.fix?.isSafe === true).length;
  const why = `${paint.name('→')} “pionero explain RULE” says why a rule exists.`;
  if (safe === 0) return why;
  return `${why}\n${paint.name('→')} ${safe === findings.length ? 'All of this' : `${digits(safe)} of ${digits(findings.length)}`} can be fixed with --fix.`;
}
