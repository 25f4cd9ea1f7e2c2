import { count } from '../../core/text/sentence.ts';
import type { SubmissionState, Trial } from '../../core/web/catalogue-protocol.ts';
import type { Finding } from '../../core/rules/engine/check.ts';
import { findingsText } from './findings-text.ts';
import type { Paint } from './paint.ts';

/** A catalogue's answer to a submission. Its words are someone else’s: they are shown, and never obeyed. */
export function reviewText(review: SubmissionState, address: string, paint: Paint, columns: number): string {
  const { submission, state, id, version, reasons, findings } = review;
  const who = `${paint.strong(id ?? 'the theme')}${version === null ? '' : ` ${version}`}`;
  if (state === 'in-review')
    return `${who} is still in review: “pionero submit --status ${submission} --catalogue ${address}” says what becomes of it`;
  const head =
    state === 'accepted'
      ? `${paint.good('✓')} ${who} was accepted by ${address}`
      : `${paint.bad('✗')} ${who} was returned: ${reasons.length === 0 ? 'no reason was given' : reasons.join('; ')}`;
  return withFindings(head, findings, paint, columns);
}

/** The verdict of a catalogue on an archive that was not handed in. */
export function trialText({ state, id, version, reasons, findings }: Trial, address: string, paint: Paint, columns: number): string {
  const who = `${paint.strong(id ?? 'the theme')}${version === null ? '' : ` ${version}`}`;
  const head =
    state === 'accepted'
      ? `${paint.good('✓')} ${address} would accept ${who}`
      : `${paint.bad('✗')} ${address} would return ${who}: ${reasons.length === 0 ? 'it gives no reason' : reasons.join('; ')}`;
  return withFindings(head, findings, paint, columns);
}

/** Submissions, the newest first, a line each. */
export function submissionsText(submissions: readonly SubmissionState[], address: string, paint: Paint): string {
  if (submissions.length === 0) return `You have handed nothing in at ${address}.`;
  const marks = { 'in-review': paint.faint('…'), accepted: paint.good('✓'), returned: paint.bad('✗') };
  const words = { 'in-review': 'in review', accepted: 'accepted', returned: 'returned' };
  const rows = submissions.map(({ submission, state, platform, id, version, reasons, at }) => {
    const who = `${id ?? '(not read yet)'} ${version ?? ''}`.trim();
    const why = reasons.length === 0 ? '' : `: ${reasons.join('; ')}`;
    return {
      mark: marks[state],
      who,
      when: at?.slice(0, 10) ?? '',
      rest: `${words[state]}${why}  ${paint.faint(`${platform}, ${submission}`)}`,
    };
  });
  const width = Math.max(...rows.map(({ who }) => who.length));
  const lines = rows.map(({ mark, who, when, rest }) => `  ${mark} ${who.padEnd(width)}  ${when.padEnd(10)}  ${rest}`);
  return `${count(submissions.length, 'submission')} at ${address}\n\n${lines.join('\n')}`;
}

function withFindings(head: string, findings: SubmissionState['findings'], paint: Paint, columns: number): string {
  if (findings.length === 0) return head;
  const shown = findings.map(({ hint, ...finding }): Finding => ({
    ...finding,
    message: hint === undefined ? finding.message : `${finding.message} → ${hint}`,
    code: 'review',
    args: {},
    why: '',
    isRefusal: false,
    isSeen: true,
    length: 0,
  }));
  return `${head}\n\n${findingsText(shown, paint, columns)}`;
}
