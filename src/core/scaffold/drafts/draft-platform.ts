import { stringify } from 'yaml';
import { spell, splitWords } from '../../names/spelling.ts';
import { guessDocuments, type GuessedDocument, type GuessedField, type SampleTheme } from './guess-documents.ts';
import { guessImages, guessMainSheet, guessTemplates } from './guess-files.ts';

/** What people can say better than files tell it. */
export interface DraftWishes {
  readonly name: string;
  readonly title?: string | undefined;
  /** Where a theme is in a host: themes/{id} */
  readonly home?: string | undefined;
  readonly releases?: readonly string[] | undefined;
  /** The path of the document that is the manifest. */
  readonly manifest?: string | undefined;
}

/** Where the themes are, for guesses from their folders. */
export interface DraftPlace {
  readonly samples: readonly SampleTheme[];
  /** The name of the folder that they are in. */
  readonly folder: string;
}

/** The documents that could be the manifest, and where a theme seems to live: what is asked before a draft is written. */
export function guessesFor({ samples, folder }: DraftPlace): { documents: readonly GuessedDocument[]; home: string; name: string } {
  const plain = folder.replace(/[^A-Za-z0-9-]+/g, '-').toLowerCase();
  const name = /^[a-z]/.test(plain) && !/^(?:themes|skins|templates|looks|src|tmp)$/.test(plain) ? plain : 'my-host';
  return { documents: guessDocuments(samples), home: `${/^[\w-]+$/.test(folder) ? folder : 'themes'}/{id}`, name };
}

/**
 * A platform file as text, with a comment for each guess that says what it was guessed from. Nothing is written.
 * @returns undefined when no file of the themes says anything about them
 */
export function draftPlatform(place: DraftPlace, wishes: DraftWishes): string | undefined {
  const { samples } = place;
  const guesses = guessesFor(place);
  const documents = guesses.documents.toSorted((a, b) => Number(b.path === wishes.manifest) - Number(a.path === wishes.manifest));
  const [manifest] = documents;
  if (manifest === undefined) return undefined;
  const ids = samples.map(({ id }) => id);
  const title = wishes.title ?? spell(splitWords(wishes.name), 'title');
  const lines = [
    `# Drafted from ${ids.join(', ')}. What stands after a # was guessed: read it, and correct what is wrong.`,
    'pionero: platform/1',
    `name: ${wishes.name}`,
    `title: ${value(title)}`,
    `summary: ${value(`Themes for ${title}.`)} # one sentence on what its themes are`,
    releasesLine(wishes, manifest),
    `home: ${value(wishes.home ?? guesses.home)}${wishes.home === undefined ? ' # from the folder that the themes are in' : ''}`,
    '',
    ...idLines(ids),
    '',
    'recognise:',
    `  - { path: ${value(manifest.path.replaceAll('{id}', '*'))} }`,
    '',
    'documents:',
    ...documents.flatMap((document) => documentLines(document, document === manifest)),
    ...imageLines(samples),
    ...templateLines(samples),
    ...assetLines(samples),
    ...inheritanceLines(manifest),
    '',
    'package: { formats: [zip], leave-out: [".*", pionero.yaml] } # a zip with one folder in it: nothing told otherwise',
    '',
  ];
  return lines.join('\n');
}

/** The releases of the host: those that people name, else those that the themes’ own range names. */
function releasesLine({ releases }: DraftWishes, { fields }: GuessedDocument): string {
  const range = fields.find(({ fact, type }) => fact === 'hosts' && type === 'range');
  const named = [...new Set(range?.value.match(/\d+(?:\.\d+)?/g) ?? [])].sort((a, b) => Number(a) - Number(b));
  const found = releases ?? (named.length > 0 ? named : ['1']);
  const from = releases !== undefined ? '' : named.length > 0 ? ` # from ${comment(range?.from ?? '')}` : ' # nothing told them';
  return `releases: [${found.map((release) => JSON.stringify(release)).join(', ')}]${from}`;
}

/** A value on one line, in quotes where YAML needs them. */
function value(text: string): string {
  return stringify(text, {
    lineWidth: 0,
    defaultStringType: /[:#{}[\],&*?|<>=!%@`'"]|^\s|\s$/.test(text) ? 'QUOTE_DOUBLE' : 'PLAIN',
  }).trim();
}

const GRAMMARS = [
  { pattern: '^[a-z][a-z0-9-]*$', grammar: 'a lower-case letter, then lower-case letters, digits or hyphens', spelling: 'kebab' },
  { pattern: '^[a-z][a-z0-9_]*$', grammar: 'a lower-case letter, then lower-case letters, digits or underscores', spelling: 'snake' },
  { pattern: '^[A-Z][A-Za-z0-9]*$', grammar: 'a capital, then letters or digits', spelling: 'pascal' },
  { pattern: '^[A-Za-z0-9][A-Za-z0-9._-]*$', grammar: 'letters, digits, dots, hyphens and underscores', spelling: 'free' },
] as const;

function idLines(ids: readonly string[]): string[] {
  const fitting = GRAMMARS.find(({ pattern }) => ids.every((id) => new RegExp(pattern).test(id))) ?? GRAMMARS[3];
  return [
    `id: # from ${ids.join(', ')}`,
    `  pattern: ${JSON.stringify(fitting.pattern)}`,
    `  grammar: ${fitting.grammar}`,
    `  spelling: ${fitting.spelling}`,
  ];
}

function documentLines({ path, syntax, options, fields }: GuessedDocument, isManifest: boolean): string[] {
  return [
    `  - path: ${value(path)}`,
    `    syntax: ${syntax}`,
    ...(Object.keys(options).length === 0 ? [] : [`    options: ${inline(options)}`]),
    ...(isManifest ? ['    required: always', '    without: the host does not list the theme'] : []),
    '    other-fields: allowed # a field that is not listed here is no mistake',
    '    fields:',
    ...fields.map((field) => `      - ${fieldText(field)} # ${comment(field.from)}`),
  ];
}

function fieldText({ key, fact, type, of, isRequired }: GuessedField): string {
  const [only, ...more] = key;
  const parts = [
    `key: ${more.length === 0 ? value(only ?? '') : `[${key.map(value).join(', ')}]`}`,
    `fact: ${value(fact)}`,
    ...(type === 'text' ? [] : [`type: ${type}`]),
    ...(of === undefined ? [] : [`of: ${of}`]),
    ...(isRequired ? ['required: always'] : []),
  ];
  return `{ ${parts.join(', ')} }`;
}

function inline(options: Readonly<Record<string, unknown>>): string {
  return `{ ${Object.entries(options)
    .map(([key, each]) => `${key}: ${JSON.stringify(each)}`)
    .join(', ')} }`;
}

function comment(text: string): string {
  return text.replace(/[\r\n]+/g, ' ');
}

function imageLines(samples: readonly SampleTheme[]): string[] {
  const images = guessImages(samples);
  if (images.length === 0) return [];
  return [
    '',
    'images:',
    ...images.map(({ role, path, format, width, height }) => {
      const size = width === undefined || height === undefined ? '' : `, min-width: ${width}, min-height: ${height}`;
      return `  - { role: ${role}, path: ${value(path)}, formats: [${format}]${size} } # as large as the one that is there`;
    }),
  ];
}

function templateLines(samples: readonly SampleTheme[]): string[] {
  const templates = guessTemplates(samples);
  if (templates === undefined) return [];
  const { files, roles, language, partials, from } = templates;
  const shapes = (name: string, list: readonly string[]): string[] =>
    list.length === 0 ? [] : [`    ${name}: [${list.map((shape) => JSON.stringify(shape)).join(', ')}]`];
  const described = typeof language === 'object' ? Object.entries(language).flatMap(([name, list]) => shapes(name, list)) : [];
  const languageLines =
    language === 'mustache'
      ? ['  language: mustache']
      : described.length === 0
        ? ['  language: { comment: ["<!-- {text} -->"] } # no tags were told']
        : ['  language: # the tags that were found', ...described];
  return [
    '',
    'templates:',
    ...languageLines,
    `  files: [${files.map((glob) => JSON.stringify(glob)).join(', ')}]`,
    '  roles: # pages; the rest are pieces',
    ...(Object.keys(roles).length === 0
      ? ['    {}']
      : Object.entries(roles).map(([role, file]) => `    ${value(role)}: { file: ${value(file)} }`)),
    ...(partials === undefined
      ? []
      : [`  partials: { file: ${value(partials)}${partialInclude(language)} } # ${comment(from.join('; '))}`]),
  ];
}

/** A language that is known by name, or described, says itself how it includes. */
function partialInclude(language: NonNullable<ReturnType<typeof guessTemplates>>['language']): string {
  return language === 'mustache' ? ', include: "{{> {path} }}"' : '';
}

function assetLines(samples: readonly SampleTheme[]): string[] {
  const sheet = guessMainSheet(samples);
  return sheet === undefined ? [] : ['', `assets: { main-sheet: ${value(sheet)} } # the only stylesheet at the top`];
}

function inheritanceLines({ fields }: GuessedDocument): string[] {
  const parent = fields.find(({ fact }) => fact === 'parent');
  return parent === undefined ? [] : ['', `inheritance: { kind: chain, inherits: ["**"] } # from ${comment(parent.from)}`];
}
