import type { Context } from './command.ts';
import { digits } from '../core/text/sentence.ts';

/** The line has a rate once so much time has passed. */
const SURE_MS = 2000;

/** A line on a terminal's standard error that says how far a long piece of work is, how fast it goes, and how long the rest takes. */
export class Progress {
  readonly #context: Context;
  readonly #doing: string;
  readonly #all: number;
  readonly #begun: number;
  #done = 0;
  #isDrawn = false;

  /** @param doing what is done, as a verb: checking */
  constructor(context: Context, doing: string, all: number) {
    this.#context = context;
    this.#doing = doing;
    this.#all = all;
    this.#begun = context.io.now();
  }

  /** So many more are done: the line says so until {@link clear}. */
  add(count: number): void {
    this.#done += count;
    const { io } = this.#context;
    if (!this.#isShown) return;
    io.stderr.write(`\r\u001b[K${progressText(this.#doing, this.#done, this.#all, io.now() - this.#begun)}`);
    this.#isDrawn = true;
  }

  /** Makes room for what is printed. */
  clear(): void {
    if (this.#isDrawn) this.#context.io.stderr.write('\r\u001b[K');
    this.#isDrawn = false;
  }

  get #isShown(): boolean {
    const { io, isMachine, options } = this.#context;
    // What programs read is not mixed with it, where both are shown on one terminal; nor text that a pager or a filter shows there.
    return io.isErrorTerminal && !options.quiet && !(isMachine ? io.hasControls : io.isPiped);
  }
}

/** @param milliseconds since the first one was begun */
export function progressText(doing: string, done: number, all: number, milliseconds: number): string {
  const far = `${doing} … ${digits(done)} of ${digits(all)}`;
  if (milliseconds < SURE_MS || done === 0) return far;
  const rate = (1000 * done) / milliseconds;
  return `${far}; ${rate < 10 ? rate.toFixed(1) : digits(Math.round(rate))} a second, ${durationText((all - done) / rate)} left`;
}

function durationText(seconds: number): string {
  if (seconds < 60) return `${Math.ceil(seconds)} s`;
  const minutes = Math.ceil(seconds / 60);
  return minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}
