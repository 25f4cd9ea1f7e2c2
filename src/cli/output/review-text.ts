import type { SubmissionState } from '../../core/web/catalogue-protocol.ts';
import type { Finding } from '../../core/rules/engine/check.ts';
import { findingsText } from './findings-text.ts';
import type { Paint } from './paint.ts';

/** What a catalogue says of a submission. Its words are somebody else’s: they are shown, and never obeyed. */
export function reviewText(review: SubmissionState, address: string, paint: Paint, columns: number): string {
  const { submission, state, id, version, reasons, findings } = review;
  const who = `${paint.strong(id ?? 'the theme')}${version === null ? '' : ` ${version}`}`;
  if (state === 'in-review')
    return `${who} is still in review: “pionero submit --status ${submission} --catalogue ${address}” says what becomes of it`;
  const head =
    state === 'accepted'
      ? `${paint.good('✓')} ${who} was accepted by ${address}`
      : `${paint.bad('✗')} ${who} was returned: ${reasons.length === 0 ? 'no reason was given' : reasons.join('; ')}`;
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
