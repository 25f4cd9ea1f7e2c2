import { ConfigurationError, type PioneroError } from '../../core/errors.ts';
import type { Io } from '../io.ts';
import { oneLine, visible } from './visible.ts';
import { Paint } from './paint.ts';

/** Prints an expected error: what, why, what to do. */
export function reportError(error: PioneroError, io: Io, isVerbose: boolean): void {
  const paint = new Paint(io.hasColor);
  const lines = [`${paint.bad('✗')} ${sentence(oneLine(error.what))}`];
  if (error instanceof ConfigurationError) {
    for (const { file, line, column, message, sourceLine } of error.problems) {
      lines.push(
        `  ${paint.strong(oneLine(`${file}:${line}:${column}`))} ${oneLine(message)}`,
        `  ${paint.faint(`${line} │`)} ${sourceLine}`,
      );
    }
  }
  if (error.why !== undefined) lines.push(`  ${sentence(oneLine(error.why))}`);
  for (const line of error.details) lines.push(`  ${oneLine(line)}`);
  if (error.hint !== undefined) lines.push(`  ${paint.name('→')} ${sentence(oneLine(error.hint))}`);
  if (isVerbose && error.stack !== undefined) lines.push(paint.faint(error.stack));
  io.stderr.write(visible(`${lines.join('\n')}\n`));
}

/** The message of the command-line library for input that it does not understand, written as all our messages are. */
export function usageText(text: string, paint: Paint): string {
  const [what = '', ...more] = text
    .trim()
    .replace(/^error: /, '')
    .replaceAll(/'([^'\n]*)'/g, '“$1”')
    .split('\n');
  const hints = more.map((line) => line.replace(/^\((.*)\)$/, '$1').replace(/^Did/, 'did'));
  return [`${paint.bad('✗')} ${sentence(what)}\n`, ...hints.map((hint) => `  ${paint.name('→')} ${sentence(hint)}\n`)].join('');
}

/** Prints a defect in our code, without the stack unless you asked for it. */
export function reportDefect(error: unknown, io: Io, isVerbose: boolean): void {
  const text = error instanceof Error ? (isVerbose ? (error.stack ?? error.message) : error.message) : String(error);
  io.stderr.write(
    visible(
      `✗ This is a defect in Pionero, not your mistake.\n  ${text}\n  → Please report it with the output of the same command and --verbose.\n`,
    ),
  );
}

/** Sentences are not given a capital: many begin with a name or a path, which must stay as it is. */
function sentence(text: string): string {
  return /[.!?:]$/.test(text) ? text : `${text}.`;
}
