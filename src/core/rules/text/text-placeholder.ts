import { NameFinder } from '../../names/name-finder.ts';
import { baseOf } from '../../files/file-tree.ts';
import { findPlaceholders, statedName, type KitName } from '../../theme/placeholders.ts';
import { advise } from '../advice.ts';
import type { Report, Rule } from '../rule.ts';
import type { Theme } from '../../theme/theme.ts';

/** What stands for a theme's name in kits, and was not replaced. */
export const textPlaceholder: Rule = {
  meta: {
    id: 'text/placeholder',
    severity: 'warning',
    summary: 'A placeholder of a kit that was not replaced',
    why: 'What it names is not found under the theme’s name; people read a word that means nothing.',
    messages: { left: '“{text}” stands for the theme’s name, and was not replaced' },
    example: {
      platform: 'cordada',
      wrong: { 'css/cierzo.css': '/* YOURTHEME: what it changes */\n.cierzo-x { top: 0 }\n' },
      right: { 'css/cierzo.css': '/* Cierzo: what it changes */\n.cierzo-x { top: 0 }\n' },
    },
  },
  *check({ theme }) {
    const stated = (theme.platform.contract.kits?.placeholders ?? []).map((text) => statedName(text, ''));
    const documents = theme.documents.map(({ path }) => path);
    const found = findPlaceholders(theme.tree, documents, [theme.names.id]).filter(isPlain);
    const known = new Set(stated.map(({ words }) => words?.join(' ')));
    for (const name of [...stated, ...found.filter(({ words }) => !known.has(words?.join(' ')))]) yield* placesOf(theme, name);
  },
};

/** Words that only a kit would hold: a constant can well be called THEME_NAME. */
function isPlain({ words, text }: KitName): boolean {
  return words === undefined ? /^(?:@@|%theme)/.test(text) : ['your', 'starterkit', 'starter'].includes(words[0] ?? '');
}

function* placesOf(theme: Theme, { words, text }: KitName): Generator<Report> {
  const finder = words === undefined ? undefined : new NameFinder(words.join(' '));
  const firstIn = (whole: string): { start: number; end: number } | undefined => {
    // A sentence may well speak of your theme.
    const own = finder?.find(whole).find((each) => each.separator !== ' ' && (each.letters === 'upper' || each.edges === 'joined'));
    const at = finder === undefined ? whole.toLowerCase().indexOf(text.toLowerCase()) : (own?.start ?? -1);
    return at < 0 ? undefined : { start: at, end: own?.end ?? at + text.length };
  };
  for (const { path, kind } of theme.tree.entries) {
    const hint = advise('replace-or-take-out');
    if (firstIn(baseOf(path)) !== undefined) yield { message: 'left', args: { text }, file: path, hint };
    const source = kind === 'file' ? theme.source(path) : undefined;
    const range = source === undefined ? undefined : firstIn(source.text);
    if (range !== undefined) yield { message: 'left', args: { text }, file: path, source, range, hint };
  }
}
