import type { RefusedTheme } from '../../core/learning/fit.ts';
import type { LineSupport } from '../../core/learning/support.ts';
import { listed } from '../../core/text/sentence.ts';
import type { Paint } from './paint.ts';

const WIDEST = 56;

/** The lines of a platform file, each with how many themes have what it speaks of; those that none has, and those that refuse, stand out. */
export function supportText(lines: readonly LineSupport[], paint: Paint): string[] {
  const width = Math.min(WIDEST, Math.max(0, ...lines.map(({ what }) => what.length)));
  return lines.map(({ line, what, count, of, refuses }) => {
    const shown = what.length > width ? `${what.slice(0, width - 1)}…` : what.padEnd(width);
    const counted = `${count} of ${of}`.padStart(9);
    const note =
      refuses.length > 0
        ? `  ${paint.bad(`refuses ${listed(refuses, 3)}`)}`
        : count === 0 && of > 0
          ? `  ${paint.warn('no theme has it')}`
          : '';
    return `  ${paint.faint(String(line).padStart(4))}  ${shown}  ${counted}${note}`;
  });
}

/** The themes that a platform file refuses, each with the first reason. */
export function refusedText(refused: readonly RefusedTheme[], paint: Paint): string[] {
  return refused.map(({ id, missing, findings }) => {
    const [first, ...more] = findings;
    const place =
      first === undefined
        ? ''
        : ` (${first.file}:${first.line}:${first.column}, ${first.rule}${more.length > 0 ? `, and ${more.length} more` : ''})`;
    return `${paint.bad('✗')} ${id} is refused: ${missing ?? first?.message ?? ''}${place}`;
  });
}
