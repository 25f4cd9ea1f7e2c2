import { NameFinder, type Occurrence } from '../../names/name-finder.ts';
import { baseOf } from '../../files/file-tree.ts';
import { searchPlaceholders, statedName, type KitName, type PlaceholderSearch } from '../../contents/placeholders.ts';
import { advise } from '../advice.ts';
import type { Report, Rule } from '../rule.ts';
import type { TextRange } from '../../text/edits.ts';
import type { SourceDocument } from '../../text/source-document.ts';
import type { Theme } from '../../theme/theme.ts';

/** Placeholders of a theme's name in kits that were not replaced. */
export const textPlaceholder: Rule = {
  meta: {
    id: 'text/placeholder',
    severity: 'warning',
    summary: 'A placeholder of a kit that was not replaced',
    why: 'Files and functions are not found under the placeholder; people read a word that means nothing.',
    messages: { left: '“{text}” stands for the theme’s name, and was not replaced' },
    example: {
      platform: 'cordada',
      wrong: { 'css/cierzo.css': '/* YOURTHEME: what it changes */\n.cierzo-x { top: 0 }\n' },
      right: { 'css/cierzo.css': '/* Cierzo: what it changes */\n.cierzo-x { top: 0 }\n' },
    },
  },
  *checkText(source, { once }) {
    once(placeholders).look(source.file, source.text);
    for (const stated of once(statedNames)) yield* placeIn(source, stated);
  },
  *check({ theme, once }) {
    const stated = once(statedNames);
    const known = new Set(stated.map(({ name: { words } }) => words?.join(' ')));
    const found = once(placeholders).found();
    const others = found.filter((name) => isPlain(name) && !known.has(name.words?.join(' '))).map(soughtAs);
    for (const { path, kind } of theme.tree.entries) {
      for (const each of [...stated, ...others])
        if (each.firstIn(baseOf(path)) !== undefined) yield { message: 'left', args: { text: each.name.text }, file: path, hint: HINT };
      const source = others.length > 0 && kind === 'file' ? theme.source(path) : undefined;
      if (source !== undefined) for (const other of others) yield* placeIn(source, other);
    }
  },
};

const HINT = advise('replace-or-take-out');

/** The placeholders that the platform's kits hold. */
function statedNames({ platform }: Theme): Sought[] {
  return (platform.contract.kits?.placeholders ?? []).map((text) => soughtAs(statedName(text, '')));
}

/** Words that look like placeholders, in the names of all files and in the texts that it is shown. */
function placeholders({ tree, documents, names }: Theme): PlaceholderSearch {
  return searchPlaceholders(
    tree,
    documents.map(({ path }) => path),
    [names.id],
  );
}

/** Words that only a kit would hold: a constant can well be called THEME_NAME. */
function isPlain({ words, text }: KitName): boolean {
  return words === undefined ? /^(?:@@|%theme)/.test(text) : ['your', 'starterkit', 'starter'].includes(words[0] ?? '');
}

/** A placeholder, and where in a text it stands first. */
interface Sought {
  readonly name: KitName;
  firstIn(text: string): TextRange | undefined;
}

function soughtAs(name: KitName): Sought {
  const { words, text } = name;
  if (words === undefined) {
    const low = text.toLowerCase();
    const firstIn = (whole: string): TextRange | undefined => {
      const start = whole.toLowerCase().indexOf(low);
      return start < 0 ? undefined : { start, end: start + text.length };
    };
    return { name, firstIn };
  }
  const finder = new NameFinder(words.join(' '));
  // A sentence may well speak of your theme.
  const isCode = ({ separator, letters, edges }: Occurrence): boolean => separator !== ' ' && (letters === 'upper' || edges === 'joined');
  return { name, firstIn: (whole) => finder.find(whole).find(isCode) };
}

function* placeIn(source: SourceDocument, sought: Sought): Generator<Report> {
  const range = sought.firstIn(source.text);
  if (range !== undefined) yield { message: 'left', args: { text: sought.name.text }, file: source.file, source, range, hint: HINT };
}
