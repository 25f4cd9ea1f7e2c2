import { findEntry } from '../../documents/syntax.ts';
import { fillShape, wholePattern } from '../../names/shape.ts';
import { isOneOfMany, keyPath, type ThemeDocument } from '../../theme/documents.ts';
import type { Theme } from '../../theme/theme.ts';
import { advices } from '../advice.ts';
import type { Report, Rule } from '../rule.ts';

const advise = advices({
  'translate-or-drop': 'translate its texts there, or take the language out',
  'translate-too': 'translate it too',
});

/** Languages that a theme says it speaks, and texts of it that do not. */
export const stringsLanguage: Rule = {
  meta: {
    id: 'strings/language',
    severity: 'warning',
    isSeen: true,
    summary: 'A language that the theme states lacks a translation',
    why: 'People choose a theme by its languages, and then read parts of it in another one.',
    messages: {
      catalogue: '“{language}” is stated, and there is no catalogue {path}',
      field: '“{key}” has no translation into “{language}”, and “{other}” has one',
      header: 'the catalogue of “{language}” says that it is in “{stated}”',
    },
    example: {
      platform: 'icons',
      wrong: { 'index.theme': '[Icon Theme]\nName=Cierzo\nName[es]=Viento\nComment=Icons\nDirectories=apps\n[apps]\nSize=48\n' },
      right: {
        'index.theme': '[Icon Theme]\nName=Cierzo\nName[es]=Viento\nComment=Icons\nComment[es]=Iconos\nDirectories=apps\n[apps]\nSize=48\n',
      },
    },
  },
  *check({ theme }) {
    yield* checkCatalogues(theme);
    for (const document of theme.documents) {
      yield* checkFields(document);
      yield* checkHeader(document, theme);
    }
  },
};

function* checkCatalogues(theme: Theme): Generator<Report> {
  const { strings } = theme.platform.contract;
  const fact = strings?.languages === undefined ? undefined : theme.fact(strings.languages);
  if (strings === undefined || !Array.isArray(fact?.value)) return;
  const pattern = wholePattern(fillShape(strings.file, theme.names));
  const there = theme.tree.entries.flatMap(({ path }) => pattern.exec(path)?.groups?.['locale'] ?? []);
  for (const [i, language] of (fact.value as readonly string[]).entries()) {
    if (isSame(language, strings['written-in'] ?? '') || there.some((locale) => isSame(locale, language))) continue;
    const path = fillShape(strings.file, theme.names).replaceAll('{locale}', language);
    const node = fact.node.kind === 'list' ? fact.node.items[i] : fact.node;
    const { path: file, source } = fact.document;
    yield {
      message: 'catalogue',
      args: { language, path },
      file,
      source,
      range: node,
      hint: advise('translate-or-drop'),
    };
  }
}

/** Fields that can be translated in the document itself: each needs all the languages that another one has. */
function* checkFields({ contract, path, source, root }: ThemeDocument): Generator<Report> {
  const fields = contract.fields.flatMap(({ translations, ...field }) => {
    const keys = keyPath(field);
    const own = findEntry(root, keys);
    const map = keys.length > 1 ? findEntry(root, keys.slice(0, -1))?.value : root;
    if (translations === undefined || own === undefined || map?.kind !== 'map') return [];
    const pattern = wholePattern(translations);
    return [{ own, languages: map.entries.flatMap(({ key }) => pattern.exec(key)?.groups?.['locale'] ?? []) }];
  });
  for (const { own, languages } of fields) {
    for (const other of fields) {
      for (const language of other.languages) {
        if (languages.some((each) => isSame(each, language))) continue;
        const range = { start: own.keyStart, end: own.keyEnd };
        yield {
          message: 'field',
          args: { key: own.key, language, other: other.own.key },
          file: path,
          source,
          range,
          hint: advise('translate-too'),
        };
      }
    }
  }
}

/** Catalogues that were copied from another language, header and all. */
function* checkHeader(document: ThemeDocument, { platform, names }: Theme): Generator<Report> {
  const { strings } = platform.contract;
  const key = strings?.['language-key'];
  if (strings === undefined || key === undefined || !isOneOfMany(document)) return;
  const language = wholePattern(fillShape(strings.file, names)).exec(document.path)?.groups?.['locale'];
  const node = findEntry(document.root, [key])?.value;
  const stated = node?.kind === 'scalar' ? String(node.value) : '';
  if (node === undefined || language === undefined || stated === '' || isSame(stated, language)) return;
  const hint = advise('write', { value: language });
  yield { message: 'header', args: { language, stated }, file: document.path, source: document.source, range: node, hint };
}

/** Whether two tags mean the same language for a reader; a region that one of them leaves open is not a difference (RFC 4647, 3.3.1). */
function isSame(a: string, b: string): boolean {
  const [left, right] = [a, b].map((tag) => tag.toLowerCase().split(/[-_.@]/));
  return left?.[0] === right?.[0] && (left?.[1] === undefined || right?.[1] === undefined || left[1] === right[1]);
}
