import { parse as parseLanguage } from 'bcp-47';
import { baseOf, folderOf } from '../files/file-tree.ts';
import type { Seen } from './learned.ts';
import type { ThemeSet } from './theme-set.ts';

const FORMATS: Readonly<Record<string, string>> = { po: 'po', ini: 'ini', json: 'json', yml: 'yaml', yaml: 'yaml' };

/** Where catalogues of texts lie: files that are called like languages, several to a folder, in many themes. */
export function learnStrings(set: ThemeSet): { file: string; format: string; seen: Seen } | undefined {
  const having = new Map<string, number>();
  for (const theme of set.themes) {
    const own = new Map<string, number>();
    for (const path of set.shapes(theme).keys()) {
      const shape = catalogueShape(path);
      if (shape !== undefined) own.set(shape, (own.get(shape) ?? 0) + 1);
    }
    for (const [shape, files] of own) if (files > 1) having.set(shape, (having.get(shape) ?? 0) + 1);
  }
  // Of several spellings of the id that as many have, the first.
  const [best] = [...having].sort(([, x], [, y]) => y - x);
  if (best === undefined || best[1] < Math.max(1, set.size / 4)) return undefined;
  const [file, count] = best;
  return { file, format: FORMATS[file.slice(file.lastIndexOf('.') + 1)] ?? 'json', seen: { count, of: set.size } };
}

/** `languages/pt-BR.yml` is `languages/{locale}.yml`, `words/de/hut.po` is `words/{locale}/hut.po`; undefined for what is not a catalogue. */
export function catalogueShape(path: string): string | undefined {
  const base = baseOf(path);
  const ending = base.slice(base.lastIndexOf('.') + 1);
  const folders = folderOf(path).split('/');
  if (folders[0] === '' || !Object.hasOwn(FORMATS, ending)) return undefined;
  if (isLocale(base.slice(0, -ending.length - 1))) return `${folders.join('/')}/{locale}.${ending}`;
  const at = folders.findIndex((folder, i) => i > 0 && isLocale(folder));
  return at < 0 ? undefined : [...folders.slice(0, at), '{locale}', ...folders.slice(at + 1), base].join('/');
}

// Made when it is asked first: to set up the names of all languages takes as long as to load a third of this library.
let languages: Intl.DisplayNames | undefined;

/** Whether a name is that of a language that people speak: not `js`. */
function isLocale(name: string): boolean {
  if (!/^[A-Za-z]{2,3}(?:[-_][A-Za-z]{2,4})*$/.test(name)) return false;
  const { language } = parseLanguage(name.replaceAll('_', '-'));
  if (typeof language !== 'string' || language.length !== 2) return false;
  languages ??= new Intl.DisplayNames('en', { type: 'language', fallback: 'none' });
  return languages.of(language) !== undefined;
}
