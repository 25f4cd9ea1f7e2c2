import { styleText } from 'node:util';
import { controlSequence } from './visible.ts';

/** Stands for the text while the sequences around it are asked for. */
const SLOT = '|';

/** Escape characters that we put in are told from those that a text brings. */
const marked = (sequences: string): string => sequences.replaceAll('\u001b', controlSequence(''));

type Style = Parameters<typeof styleText>[0];

/** Colors and weights; plain text when colors are off. */
export class Paint {
  readonly #isOn: boolean;

  constructor(isOn: boolean) {
    this.#isOn = isOn;
  }

  strong = (text: string): string => this.#style('bold', text);
  faint = (text: string): string => this.#style('dim', text);
  good = (text: string): string => this.#style('green', text);
  bad = (text: string): string => this.#style(['bold', 'red'], text);
  warn = (text: string): string => this.#style('yellow', text);
  name = (text: string): string => this.#style('cyan', text);

  #style(style: Style, text: string): string {
    if (!this.#isOn) return text;
    const [before = '', after = ''] = styleText(style, SLOT, { validateStream: false }).split(SLOT);
    return marked(before) + text + marked(after);
  }
}

/** A size in bytes for people. */
export function bytes(size: number): string {
  if (size < 1000) return `${size} B`;
  return size < 1_000_000 ? `${(size / 1000).toFixed(1)} kB` : `${(size / 1_000_000).toFixed(1)} MB`;
}
