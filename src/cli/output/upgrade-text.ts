import { count, plural } from '../../core/text/sentence.ts';
import type { Upgrade } from '../../core/upgrade/plan-upgrade.ts';
import { findingsText } from './findings-text.ts';
import type { Finding } from '../../core/rules/engine/check.ts';
import type { Fix } from '../../core/rules/rule.ts';
import type { Paint } from './paint.ts';

/** The changes that a theme needs for a release, the range that it then states, and the list of decisions. */
export function upgradeText(
  id: string,
  { theme, release, fixes, range, dropped, open, others }: Upgrade,
  paint: Paint,
  columns: number,
): string {
  const host = `${theme.platform.contract.title} ${release}`;
  const changes = fixes.length + (range === undefined ? 0 : 1);
  const own = others === 0 ? '' : `; “pionero check” reports ${count(others, 'error')} on every release`;
  if (changes + open.length === 0)
    return `${others === 0 ? paint.good('✓') : paint.warn('▲')} ${paint.strong(id)} needs no change for ${host}${own}`;
  const isReady = open.every(({ severity }) => severity !== 'error');
  const mark = open.length + others === 0 ? paint.good('✓') : isReady ? paint.warn('▲') : paint.bad('✗');
  const head = `${mark} ${paint.strong(id)} → ${host}: ${count(changes, 'change')}${open.length === 0 ? '' : `, ${count(open.length, 'thing')} to decide`}${own}`;
  const places = fixes.map(({ finding, fix }) => ({
    place: placeOf(finding.file, finding.line, fix.edits.length > 0),
    what: whatOf(finding, fix, paint),
  }));
  const width = Math.max(0, ...places.map(({ place }) => place.length), range === undefined ? 0 : 'releases'.length);
  const lines = [
    ...places.map(({ place, what }) => `  ${paint.faint(place.padEnd(width))}  ${what}`),
    ...(range === undefined
      ? []
      : [`  ${paint.faint('releases'.padEnd(width))}  ${paint.bad(range.before)} ${paint.faint('→')} ${paint.good(range.after)}`]),
    ...(dropped.length === 0
      ? []
      : [
          `  ${paint.warn('▲')} it no longer runs on ${dropped.join(', ')}: ${plural(dropped.length, 'that release does', 'those releases do')} not know what is written now`,
        ]),
  ];
  const decisions = open.length === 0 ? [] : ['', paint.strong('To decide'), '', findingsText(open, paint, columns)];
  return [head, ...(lines.length === 0 ? [] : ['', ...lines]), ...decisions].join('\n');
}

/** A replaced name is shown beside its successor. */
function whatOf({ args }: Finding, { title }: Fix, paint: Paint): string {
  const { written, now } = args;
  return written === undefined || now === undefined
    ? title.text
    : `${paint.bad(String(written))} ${paint.faint('→')} ${paint.good(String(now))}`;
}

/** A file that is moved has no line. */
function placeOf(file: string, line: number, hasLine: boolean): string {
  return hasLine ? `${file}:${line}` : file;
}
