import type { Platform } from '../platform/platform.ts';
import { spell, splitWords } from '../text/spelling.ts';

/** What a theme is called. */
export interface FullName {
  readonly id: string;
  readonly title: string;
  readonly vendor?: string | undefined;
}

/** The title that follows from a new id in the style of the old pair: `albar`, Albar → `cumbre-sur`, Cumbre Sur. */
export function followTitle(from: FullName, id: string): string {
  const oldWords = splitWords(from.id);
  const words = splitWords(id);
  for (const spelling of ['title', 'sentence', 'spaced', 'upperSpaced', 'pascal'] as const) {
    if (from.title === spell(oldWords, spelling)) return spell(words, spelling);
  }
  // The id's words may stand within a longer title, which keeps the rest of it: Albar Theme → Lumbre Theme.
  const inner = spell(oldWords, 'title');
  return from.title.includes(inner) ? from.title.replace(inner, spell(words, 'title')) : spell(words, 'title');
}

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

/** The full name of a clone, with the title following when none is given. */
export function newName(
  from: FullName,
  given: { id: string; title?: string | undefined; vendor?: string | undefined },
  platform: Platform,
): FullName {
  return {
    id: given.id,
    title: given.title ?? followTitle(from, given.id),
    vendor: platform.contract.vendor === undefined ? undefined : (given.vendor ?? from.vendor),
  };
}
