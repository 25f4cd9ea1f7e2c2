import { spell, splitWords } from './spelling.ts';

/** The names that a theme goes by, as facts give them. */
export interface ThemeNames {
  readonly id: string;
  readonly vendor?: string | undefined;
  readonly title?: string | undefined;
}

/** The names of a theme. */
export interface FullName {
  readonly id: string;
  readonly title: string;
  readonly vendor?: string | undefined;
}

/** Whether two themes cannot lie beside each other: titles do not tell them apart. */
export function isSameName(a: ThemeNames, b: ThemeNames): boolean {
  return a.id === b.id && a.vendor === b.vendor;
}

/** A theme's names with the title that the host would show when it states none. */
export function fullNameOf({ id, title, vendor }: ThemeNames): FullName {
  return { id, title: title ?? id, vendor };
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

/** The full name of a clone, with the title and the vendor following when none is given. */
export function newName(from: FullName, given: ThemeNames): FullName {
  return { id: given.id, title: given.title ?? followTitle(from, given.id), vendor: given.vendor ?? from.vendor };
}

/**
 * The text that says of which words an id consists. An id in one piece (`nortecimaalta`) hides them; a title that is the
 * same but for spaces and capitals (“Norte Cima-Alta”) shows them.
 */
export function spokenId({ id, title }: FullName): string {
  const own = splitWords(title);
  const isSame = own.join('') === splitWords(id).join('');
  // A lone capital within a word is a matter of taste (aLbar), and no word.
  const isPlain = own.every((word) => word.length > 1) || /[^\p{L}\p{N}\p{M}]/u.test(title.trim());
  return isSame && isPlain && own.length > splitWords(id).length ? title : id;
}
