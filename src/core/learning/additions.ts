import { parseDocument } from 'yaml';
import { findEntry, plainValue } from '../documents/syntax.ts';
import type { Platform } from '../platform/platform.ts';
import { keyPath } from '../theme/documents.ts';
import { linesAt, withItem, withPair, type YamlPath } from './add-lines.ts';
import { factName } from './fact-names.ts';
import { readsOf } from './readers.ts';
import { ThemeSet, type SampleTheme } from './theme-set.ts';
import { split } from './values.ts';

type Contract = Platform['contract'];

/** Something that a draft says and a platform file may not. */
export interface Addition {
  /** The subject, for people. */
  readonly what: string;
  /** Whether the file says it already, in whatever words. */
  readonly isKnown: (contract: Contract) => boolean;
  /** The text with it; undefined where there is no place for it. */
  readonly add: (text: string, contract: Contract) => string | undefined;
}

/** Lists of a platform file whose entries are told apart by what they speak of. */
const LISTS: readonly {
  readonly path: YamlPath;
  readonly of: (contract: Contract) => readonly unknown[];
  readonly name: (entry: never) => string;
  /** Names that other parts of the file speak of. */
  readonly others?: ((contract: Contract) => readonly string[]) | undefined;
}[] = [
  list(
    ['files'],
    ({ files }) => files,
    ({ path }) => path,
    spokenOf,
  ),
  list(
    ['images'],
    ({ images }) => images,
    ({ path }) => path,
  ),
  list(
    ['templates', 'files'],
    ({ templates }) => templates?.files ?? [],
    (glob) => glob,
  ),
  list(
    ['templates', 'languages'],
    ({ templates }) => templates?.languages ?? [],
    ({ files }) => files.join(', '),
  ),
  list(
    ['templates', 'endings'],
    ({ templates }) => templates?.endings ?? [],
    (ending) => ending,
  ),
  list(
    ['templates', 'language', 'include'],
    (contract) => languageOf(contract)?.include ?? [],
    (shape) => shape,
  ),
  list(
    ['templates', 'language', 'extend'],
    (contract) => languageOf(contract)?.extend ?? [],
    (shape) => shape,
  ),
  list(
    ['templates', 'language', 'sections'],
    (contract) => languageOf(contract)?.sections ?? [],
    ({ opens }) => opens,
  ),
  list(
    ['assets', 'served'],
    ({ assets }) => assets.served,
    ({ folder, as }) => `${folder} as ${as}`,
  ),
  list(
    ['made'],
    ({ made }) => made,
    ({ file, from }) => `${file} of ${from}`,
  ),
  list(
    ['identifiers'],
    ({ identifiers }) => identifiers,
    ({ declared, files }) => `${declared} in ${files.join(', ')}`,
  ),
  list(
    ['inheritance', 'built-in'],
    ({ inheritance }) => inheritance['built-in'],
    (id) => id,
  ),
  list(
    ['host-files'],
    (contract) => contract['host-files'],
    (glob) => glob,
  ),
  list(
    ['package', 'leave-out'],
    (contract) => contract.package['leave-out'],
    (glob) => glob,
  ),
];

function list<T>(
  path: YamlPath,
  of: (contract: Contract) => readonly T[],
  name: (entry: T) => string,
  others?: (contract: Contract) => readonly string[],
): (typeof LISTS)[number] {
  return { path, of, name, others };
}

/** Files that a platform file speaks of as documents, pictures and pages. */
function spokenOf({ documents, images, templates }: Contract): string[] {
  return [...documents, ...images].map(({ path }) => path).concat(Object.values(templates?.roles ?? {}).map(({ file }) => file));
}

/** The tags of a language that a file describes; undefined for one that is known by name. */
function languageOf({ templates }: Contract) {
  const language = templates?.language;
  return typeof language === 'object' && language.like === undefined ? language : undefined;
}

/** Keys of a draft that a file has as a whole, or not at all. */
const WHOLE = [
  'files',
  'images',
  // An include can name a parent only where there are parents.
  'inheritance',
  'templates',
  'assets',
  'made',
  'strings',
  'regions',
  'bundles',
  'identifiers',
  'host-files',
];

/**
 * All that a draft says beyond what each file has: its name, its home, its marks. Nothing of it is required, and no page is one that each
 * theme must have: the themes that the file was made for may lack it.
 */
export function* additionsOf(draft: Platform): Generator<Addition> {
  const { contract, source } = draft;
  const document = parseDocument(source.text);
  yield* documentAdditions(draft);
  for (const key of WHOLE)
    if (document.has(key))
      yield {
        what: key,
        isKnown: (known) => isStated(known, key),
        add: (text) => withPair(text, [key], askedOfNone(source.text, document, [key])),
      };
  for (const { path, of, name, others } of LISTS)
    for (const [i, entry] of of(contract).entries())
      yield {
        what: `${path.join('.')}: ${name(entry as never)}`,
        isKnown: (known) =>
          !canHold(known, path) ||
          [...of(known).map((other) => name(other as never)), ...(others?.(known) ?? [])].includes(name(entry as never)),
        add: (text) => (document.hasIn([...path, i]) ? withItem(text, path, askedOfNone(source.text, document, [...path, i])) : undefined),
      };
}

/** Lines of a draft, without what they ask of every theme. */
function askedOfNone(...at: Parameters<typeof linesAt>): string[] {
  const lines = linesAt(...at);
  const roles = lines.findIndex((line) => line.startsWith('roles:'));
  const end = lines.findIndex((line, i) => i > roles && !line.startsWith(' '));
  const asked = roles < 0 ? lines : [...lines.slice(0, roles), 'roles: {}', ...(end < 0 ? [] : lines.slice(end))];
  return asked.filter((line) => !/^ *(?:required: always|without: .*)$/.test(line)).map((line) => line.replace(', required: always', ''));
}

/** Whether a list of the file says something: what has a default is empty where nobody wrote it. */
function isStated(contract: Contract, key: string): boolean {
  const value = (contract as Readonly<Record<string, unknown>>)[key];
  if (Array.isArray(value)) return value.length > 0;
  if (key === 'assets') return Object.values(contract.assets).some((each) => (Array.isArray(each) ? each.length > 0 : each !== undefined));
  return key === 'inheritance' ? contract.inheritance.kind !== 'none' : value !== undefined;
}

/** Whether a file has what a list is part of: a language of tags, parents. */
function canHold(contract: Contract, path: YamlPath): boolean {
  if (path[1] === 'language') return languageOf(contract) !== undefined;
  if (path[0] === 'templates') return contract.templates !== undefined;
  return path[0] !== 'inheritance' || contract.inheritance.kind !== 'none';
}

function* documentAdditions({ contract, source }: Platform): Generator<Addition> {
  const document = parseDocument(source.text);
  for (const [i, { path, fields }] of contract.documents.entries()) {
    const at = (known: Contract): number => known.documents.findIndex((each) => each.path === path);
    yield {
      what: path,
      isKnown: (known) => at(known) >= 0,
      add: (text) => withItem(text, ['documents'], askedOfNone(source.text, document, ['documents', i])),
    };
    for (const [j, field] of fields.entries()) {
      const key = keyPath(field).join('.');
      yield {
        what: `${path}: ${key}`,
        isKnown: (known) => known.documents[at(known)]?.fields.some((each) => keyPath(each).join('.') === key) !== false,
        add: (text, known) => {
          const facts = new Set(known.documents.flatMap((each) => each.fields.map(({ fact }) => fact)));
          const [line = '', ...more] = askedOfNone(source.text, document, ['documents', i, 'fields', j]);
          const fact = facts.has(field.fact) ? factName([path.replace(/[{}]/g, ''), ...keyPath(field)]) : field.fact;
          return withItem(text, ['documents', at(known), 'fields'], [line.replace(`fact: ${field.fact}`, `fact: ${fact}`), ...more]);
        },
      };
    }
  }
}

/** Values that further themes have and a list of choices does not: two themes of one mind make no mistake. */
export function* choiceAdditions({ contract }: Platform, themes: readonly SampleTheme[]): Generator<Addition> {
  const set = new ThemeSet(themes);
  for (const [i, document] of contract.documents.entries())
    for (const [j, field] of document.fields.entries()) {
      if (field.type !== 'choice' && field.of !== 'choice') continue;
      for (const value of recurringValues(set, document, field))
        yield {
          what: `${document.path}: ${keyPath(field).join('.')} may be “${value}”`,
          isKnown: (known) => known.documents[i]?.fields[j]?.values?.includes(value) === true,
          add: (text) => withItem(text, ['documents', i, 'fields', j, 'values'], [JSON.stringify(value)]),
        };
    }
}

type DocumentContract = Contract['documents'][number];

/** The values of a field that several themes have. */
function recurringValues(set: ThemeSet, document: DocumentContract, field: DocumentContract['fields'][number]): string[] {
  const counts = new Map<string, number>();
  for (const { root } of readsOf(set, document)) {
    const node = findEntry(root, keyPath(field))?.value;
    const plain = node === undefined ? undefined : plainValue(node);
    const values = Array.isArray(plain)
      ? plain.map(String)
      : typeof plain !== 'string' || field.separator === undefined
        ? [plain].filter((each) => ['string', 'number', 'boolean'].includes(typeof each)).map(String)
        : split(plain, field.separator);
    for (const value of new Set(values)) counts.set(value, (counts.get(value) ?? 0) + 1);
  }
  return [...counts].filter(([value, count]) => count > 1 && value !== '').map(([value]) => value);
}
