import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, symlinkSync } from 'node:fs';
import { join } from 'node:path';
import { NPM_HOSTS } from '../../scripts/needs.mjs';
import { writeFiles, type Place } from './trees.ts';

/** The program that makes slides, as docs/marp.md shows it. */
const program = (): string => /```js\n([^]*?)```/.exec(readFileSync('docs/marp.md', 'utf8'))?.[1] ?? '';

const slide = (hut: string): string =>
  `# ${hut}\n\nThe hut of ${hut} has forty beds.\n\n> Bring a lamp.\n\n| beds | way |\n|---|---|\n| 40 | 3 h |\n`;

/** A deck of the hut league, whose themes are in themes/. */
export function prepareDeck(place: Place): void {
  mkdirSync(place.path('deck/themes'), { recursive: true });
  writeFiles(place.path('deck'), { 'slides.md': [slide('Cierzo'), slide('Lumbre')].join('\n---\n\n'), 'slides.cjs': program() });
  symlinkSync(join(NPM_HOSTS, 'node_modules'), place.path('deck/node_modules'));
}

/** What came of making slides. */
export interface Slides {
  readonly isMade: boolean;
  /** What the host says of a theme that it cannot take. */
  readonly said: string;
  /** The page with all slides, and their styles. */
  readonly page: string;
}

/** Makes the slides of the deck with a theme. */
export function makeSlides(place: Place, theme: string): Slides {
  const out = place.path('built', theme);
  const { status, stderr } = spawnSync(process.execPath, ['slides.cjs', theme, out], { cwd: place.path('deck'), encoding: 'utf8' });
  let page = '';
  try {
    page = readFileSync(join(out, 'index.html'), 'utf8');
  } catch {
    // None was made.
  }
  return { isMade: status === 0 && page !== '', said: stderr, page };
}
