import { spawn } from 'node:child_process';
import { stripVTControlCharacters } from 'node:util';
import { expect } from 'vitest';
import { need } from './needs.ts';
import { PROGRAM, type Workplace } from './program.ts';

/** A key that opens or closes nothing, moves nothing, and takes what is proposed. */
export const ENTER = '\r';

/** One question on the terminal: what is waited for, and what is typed then. */
export type Answer = readonly [shown: RegExp, typed: string];

/**
 * Runs the built program on a pseudo-terminal of 100 × 40 and answers its questions.
 * @param term what the terminal is: `dumb` takes no control sequences
 * @returns what was shown, without control sequences, and the exit status
 */
export async function onTerminal(place: Workplace, folder: string, argv: readonly string[], answers: readonly Answer[], term = 'xterm') {
  need('shell');
  const quoted = [process.execPath, PROGRAM, ...argv].map((word) => `'${word.replaceAll("'", `'\\''`)}'`).join(' ');
  const child = spawn('script', ['-qefc', `stty cols 100 rows 40; ${quoted}`, '/dev/null'], {
    cwd: place.path(folder),
    env: { ...place.env, TERM: term, NO_COLOR: undefined },
  });
  let shown = '';
  let seen = 0;
  child.stdout.on('data', (data: Buffer) => (shown += data.toString()));
  const ended = new Promise<number | null>((resolve) => child.on('close', resolve));
  const text = (): string => stripVTControlCharacters(shown).replaceAll('\r', '');
  try {
    for (const [wanted, typed] of answers) {
      await expect.poll(() => text().slice(seen), { timeout: 15_000, interval: 20 }).toMatch(wanted);
      // What stands before an answer is not taken for what comes after it.
      seen = text().length;
      child.stdin.write(typed);
    }
    return { status: await ended, shown: text() };
  } finally {
    child.kill('SIGKILL');
  }
}
