import { parse as parseLanguage } from 'bcp-47';
import { baseOf, compareText, folderOf } from '../files/file-tree.ts';
import type { Seen } from './learned.ts';
import type { ThemeSet } from './theme-set.ts';

const FORMATS: Readonly<Record<string, string>> = { po: 'po', ini: 'ini', json: 'json', yml: 'yaml', yaml: 'yaml' };

/** Where catalogues of texts lie: files that are called like languages, several to a folder, in many themes. */
export function learnStrings(set: ThemeSet): { file: string; format: string; seen: Seen } | undefined {
  const having = new Map<string, number>();
  for (const theme of set.themes) {
    const own = new Map<string, number>();
    for (const path of set.shapes(theme).values()) {
      const shape = catalogueShape(path);
      if (shape !== undefined) own.set(shape, (own.get(shape) ?? 0) + 1);
    }
    for (const [shape, files] of own) if (files > 1) having.set(shape, (having.get(shape) ?? 0) + 1);
  }
  const [best] = [...having].sort(([a, x], [b, y]) => y - x || compareText(a, b));
  if (best === undefined || best[1] < Math.max(1, set.size / 4)) return undefined;
  const [file, count] = best;
  return { file, format: FORMATS[file.slice(file.lastIndexOf('.') + 1)] ?? 'json', seen: { count, of: set.size } };
}

/** `languages/pt-BR.yml` is `languages/{locale}.yml`; undefined for what is not a catalogue. */
export function catalogueShape(path: string): string | undefined {
  const folder = folderOf(path);
  const [, locale = '', ending = ''] = /^([A-Za-z]{2,3}(?:[-_][A-Za-z]{2,4})*)\.(\w+)$/.exec(baseOf(path)) ?? [];
  if (folder === '' || !Object.hasOwn(FORMATS, ending)) return undefined;
  const { language } = parseLanguage(locale.replaceAll('_', '-'));
  return typeof language === 'string' && language.length === 2 ? `${folder}/{locale}.${ending}` : undefined;
}
