import { splitWords } from './spelling.ts';

/**
 * Words that mean something to every developer or reader: an id that is one of them does not prove by itself that a
 * place names the theme.
 */
const COMMON_WORDS: ReadonlySet<string> = new Set(
  `about action admin alpha array author back base basic beta black block blog blue body bold book border box brown build button
  card center child class clean clear cloud code color column common content core corner course custom dark data date default demo
  design desk digital dist docs edge editor elegant entry event field file first flat flow font foot form frame free fresh front
  gallery garden gold gray green grey grid head header hello home host icon image index info inline item key kind label large
  layout leaf left light line link list local look magazine main mark master media menu mini minimal mobile mode modern modular
  module name native nature nav navy news next node none normal note object open orange order oval page paper parent part partial
  path plain plus point portal post press primary print pro public pure quick read red region reset river road rock root rose round
  row sample screen script search section set shadow shape shop side simple site size skin sky slate slide small smart snow solid
  source space split square standard star start stone style sun system tab table tag team template test text theme time title top
  tree type ultra union unit upper user vector video view wave web white wide window wood word work world yellow zero`.split(/\s+/),
);

/**
 * How much a name says by itself: a `distinctive` one means the theme wherever it stands; a `short` one (oak, sol) or one
 * that is `part` of another theme's name (albar beside albar-wide) means it where the place supports that; a `common` word
 * (core, menu) only where the place proves it.
 */
export type Weight = 'distinctive' | 'part' | 'short' | 'common';

/** Judges a name beside the names of the other themes on the shelf. */
export function weigh(name: string, others: readonly string[] = []): Weight {
  const words = splitWords(name);
  if (words.length === 1 && COMMON_WORDS.has(words[0] ?? '')) return 'common';
  if (words.join('').length < 4) return 'short';
  const own = ` ${words.join(' ')} `;
  const isPart = others.map((other) => ` ${splitWords(other).join(' ')} `).some((other) => other !== own && other.includes(own));
  return isPart ? 'part' : 'distinctive';
}
