import { stringify } from 'yaml';
import { spell, splitWords } from '../names/spelling.ts';
import type { Learned, LearnedDocument, LearnedField, LearnedLanguage, Seen } from './learned.ts';

/** Facts that people know better than files. */
export interface DraftWishes {
  readonly name: string;
  readonly title?: string | undefined;
  /** Where a theme is in a host: themes/{id} */
  readonly home?: string | undefined;
  readonly releases?: readonly string[] | undefined;
}

/** A platform file as text, with the count of themes that bear a line out beside it. */
export function platformTextOf(learned: Learned, wishes: DraftWishes, home: string): string {
  const title = wishes.title ?? spell(splitWords(wishes.name), 'title');
  const { documents, ids } = learned;
  const lines = [
    `# Learned from ${ids.length === 1 ? onOneLine(ids[0] ?? '') : `${ids.length} themes: ${onOneLine(ids.slice(0, 8).join(', '))}${ids.length > 8 ? ', …' : ''}`}. The counts say how many of them bear a line out.`,
    'pionero: platform/1',
    `name: ${wishes.name}`,
    `title: ${quoted(title)}`,
    `summary: ${quoted(`Themes for ${title}.`)} # one sentence on its themes`,
    `releases: [${(wishes.releases ?? (learned.releases.length > 0 ? learned.releases : ['1'])).map((release) => JSON.stringify(release)).join(', ')}]${wishes.releases === undefined ? (learned.releases.length > 0 ? ' # those that the themes name' : ' # the themes do not tell them') : ''}`,
    `home: ${quoted(wishes.home ?? home)}${wishes.home === undefined ? ' # after the folder of the themes' : ''}`,
    '',
    'id:',
    `  pattern: ${JSON.stringify(learned.grammar.pattern)}`,
    `  grammar: ${learned.grammar.grammar}`,
    `  spelling: ${learned.grammar.spelling}`,
    '',
    'recognise:',
    ...learned.marks.map(({ path, holds }) => `  - { path: ${quoted(path)}${holds === undefined ? '' : `, holds: ${literal(holds)}`} }`),
    '',
    documents.length === 0 ? 'documents: [] # no file says what a theme is' : 'documents:',
    ...documents.flatMap((document, i) => documentLines(document, i === 0)),
    ...section(
      'files',
      learned.files.map(
        (file) =>
          `  - { path: ${quoted(file.path)}${file.kind === 'folder' ? ', kind: folder' : ''}${file.required ? ', required: always' : ''} }${counted(file.seen)}`,
      ),
    ),
    ...section(
      'images',
      learned.images.map(
        ({ role, path, formats, size, seen }) =>
          `  - { role: ${role}, path: ${quoted(path)}, formats: [${formats.join(', ')}]${size === undefined ? '' : seen.of === 1 ? `, min-width: ${size[0]}, min-height: ${size[1]}` : `, width: ${size[0]}, height: ${size[1]}`} }${counted(seen)}`,
      ),
    ),
    ...templateLines(learned),
    ...assetLines(learned),
    ...(learned.strings === undefined
      ? []
      : [
          '',
          `strings: { file: ${quoted(learned.strings.file)}, format: ${learned.strings.format}${learned.strings.format === 'yaml' ? ', options: { lenient: true }' : ''}, incomplete: true }${counted(learned.strings.seen)}`,
        ]),
    ...regionLines(learned),
    ...identifierLines(learned),
    ...parentLines(learned),
    ...(learned.hostFiles === undefined
      ? []
      : [
          '',
          `host-files: [${learned.hostFiles.globs.map((glob) => JSON.stringify(glob)).join(', ')}] # ${learned.hostFiles.names} names of pictures are in most themes: the host asks for them`,
        ]),
    '',
    `package: { formats: [zip], leave-out: [${learned.leaveOut.map((each) => JSON.stringify(each)).join(', ')}] } # a zip with one folder in it`,
    '',
    ...siteLines(learned),
    '',
  ];
  return lines.join('\n');
}

/** The entry for a site on which themes are tried, to be filled in: what is run is for its owner to say. */
function siteLines({ templates }: Learned): string[] {
  const roles = (templates?.roles ?? []).slice(0, 3).map(({ role }) => role);
  return [
    '# To try themes on your own site (docs/sites.md), fill this in and put it into pionero.yaml:',
    '# sites:',
    '#   mine:',
    '#     folder: path/to/site # copied fresh for each trial',
    '#     command: [BUILDER, "{id}", "{out}"] # or “server: […]” with "{port}"',
    '#     pages:',
    ...(roles.length === 0 ? ['front'] : roles).map(
      (role) => `#       - { role: ${quoted(role)}, file: ${role === 'front' ? 'index' : role}.html, holds: ["{id}"] }`,
    ),
  ];
}

/** A name of a file or a folder may hold the end of a line: a comment must not. */
function onOneLine(text: string): string {
  return text.replace(/[\p{Cc}\u2028\u2029]+/gu, ' ');
}

/** The comment behind a line: how many bear it out, and what it was told from. */
function counted({ count, of }: Seen, why = ''): string {
  const parts = [...(of === 1 ? [] : [`${count} of ${of}`]), ...(why === '' ? [] : [why])];
  return parts.length === 0 ? '' : ` # ${onOneLine(parts.join('; '))}`;
}

function section(name: string, lines: readonly string[]): string[] {
  return lines.length === 0 ? [] : ['', `${name}:`, ...lines];
}

/** A text between quotes: between such as it does not hold itself, where that spares backslashes. */
function literal(text: string): string {
  return text.includes('"') && !/['\r\n]/.test(text) ? `'${text}'` : JSON.stringify(text);
}

/** A value on one line, in quotes where YAML needs them. */
function quoted(text: string): string {
  return stringify(text, {
    lineWidth: 0,
    defaultStringType: /[:#{}[\],&*?|<>=!%@`'"\\]|^\s|\s$/.test(text) ? (text.includes('"') ? 'QUOTE_SINGLE' : 'QUOTE_DOUBLE') : 'PLAIN',
  }).trim();
}

function documentLines({ path, syntax, options, required, fields, seen }: LearnedDocument, isManifest: boolean): string[] {
  const given = Object.entries(options).map(([key, each]) => `${key}: ${JSON.stringify(each)}`);
  return [
    `  - path: ${quoted(path)}${counted(seen)}`,
    `    syntax: ${syntax}`,
    ...(given.length === 0 ? [] : [`    options: { ${given.join(', ')} }`]),
    ...(required ? ['    required: always', ...(isManifest ? ['    without: the host does not list the theme'] : [])] : []),
    '    other-fields: allowed # a theme may have fields that are not listed here',
    fields.length === 0 ? '    fields: []' : '    fields:',
    ...fields.map(
      (field) =>
        `      - ${fieldText(field)}${counted(
          field.seen,
          [field.seen.of === 1 ? field.example : '', field.why].filter((each) => each !== '').join(', '),
        )}`,
    ),
  ];
}

function fieldText(field: LearnedField): string {
  const [only, ...more] = field.key;
  const parts = [
    `key: ${more.length === 0 ? quoted(only ?? '') : `[${field.key.map(quoted).join(', ')}]`}`,
    `fact: ${quoted(field.fact)}`,
    ...(field.type === 'text' ? [] : [`type: ${field.type}`]),
    ...(field.of === undefined ? [] : [`of: ${field.of}`]),
    ...(field.separator === undefined ? [] : [`separator: ${JSON.stringify(field.separator)}`]),
    ...(field.shape === undefined ? [] : [`shape: ${quoted(field.shape)}`]),
    ...(field.values === undefined ? [] : [`values: [${field.values.map((each) => JSON.stringify(each)).join(', ')}]`]),
    ...(field.pattern === undefined ? [] : [`pattern: ${JSON.stringify(field.pattern)}`, `grammar: ${quoted(field.grammar ?? '')}`]),
    ...(field.none === undefined ? [] : [`none: ${quoted(field.none)}`]),
    ...(field.under === undefined ? [] : [`under: ${quoted(field.under)}`]),
    ...(field.translations === undefined ? [] : [`translations: ${quoted(field.translations)}`]),
    ...(field.required ? ['required: always'] : []),
  ];
  return `{ ${parts.join(', ')} }`;
}

function templateLines(learned: Learned): string[] {
  const { templates } = learned;
  if (templates === undefined) return [];
  const { files, endings, language, languages, roles, partials } = templates;
  return [
    '',
    'templates:',
    ...languageValue(language, '  '),
    '  files:',
    ...files.map(({ glob, seen }) => `    - ${JSON.stringify(glob)}${counted(seen)}`),
    ...(languages.length === 0 ? [] : ['  languages:']),
    ...languages.flatMap(({ files: glob, language: other, seen }) => [
      `    - files: [${literal(glob)}]${counted(seen)}`,
      ...languageValue(other, '      '),
    ]),
    ...(endings.length === 0 ? [] : [`  endings: [${endings.join(', ')}]`]),
    ...(templates.namesTheme && hasParents(learned) ? ['  named-theme: "{id}/{path}"'] : []),
    '  any-page: true # a template that nothing includes may be a page',
    roles.length === 0 ? '  roles: {}' : '  roles: # templates that nothing includes',
    ...roles.map(({ role, file, seen }) => `    ${quoted(role)}: { file: ${quoted(file)} }${counted(seen)}`),
    ...(partials === undefined
      ? []
      : [
          `  partials: { file: ${quoted(partials.file)}${partials.relative === 'never' ? '' : `, relative: ${partials.relative}`}${language.like === 'mustache' ? ', include: "{{> {path} }}"' : ''} }${counted(partials.seen, partials.example)}`,
        ]),
  ];
}

/** The key of a language with its name or its tags. */
function languageValue(language: LearnedLanguage, margin: string): string[] {
  if (language.like === 'mustache') return [`${margin}language: mustache`];
  const lines = languageLines(language, `${margin}  `);
  return lines.length === 0
    ? [`${margin}language: { comment: ["<!-- {text} -->"] } # the templates show no tags`]
    : [`${margin}language:`, ...lines];
}

function languageLines({ like, comment, print, include, extend, sections }: LearnedLanguage, margin: string): string[] {
  const list = (name: string, shapes: readonly string[]): string[] =>
    shapes.length === 0 ? [] : [`${margin}${name}: [${shapes.map(literal).join(', ')}]`];
  const shaped = (name: string, all: readonly { shape: string; seen: Seen }[]): string[] =>
    all.length === 0 ? [] : [`${margin}${name}:`, ...all.map(({ shape, seen }) => `${margin}  - ${literal(shape)}${counted(seen)}`)];
  return [
    ...(like === undefined ? [...list('comment', comment), ...list('print', print)] : [`${margin}like: ${like}`]),
    ...shaped('include', include),
    ...shaped('extend', extend),
    ...(like !== undefined || sections.length === 0
      ? []
      : [
          `${margin}sections:`,
          ...sections.map(
            ({ opens, closes, seen }) =>
              `${margin}  - { opens: ${literal(opens)}, closes: ${literal(closes)} }${counted(seen, 'templates')}`,
          ),
        ]),
  ];
}

/** Regions and bundles. */
function regionLines({ regions, bundles, documents }: Learned): string[] {
  const facts = new Set(documents.flatMap(({ fields }) => fields.map(({ fact }) => fact)));
  return [
    ...(regions === undefined
      ? []
      : [
          '',
          `regions: { fact: regions, printed: ${literal(regions.printed)}${regions.isPerRole ? ', per-role: true' : ''} }${counted(regions.seen, 'names are printed so')}`,
        ]),
    ...(bundles === undefined
      ? []
      : [
          '',
          `bundles: { file: ${quoted(bundles.file)}${facts.has('bundleSheets') ? ', sheets: bundleSheets' : ''}${facts.has('bundleScripts') ? ', scripts: bundleScripts' : ''} }${counted(bundles.seen, 'names have such a file')}`,
        ]),
  ];
}

function identifierLines({ identifiers }: Learned): string[] {
  return section(
    'identifiers',
    identifiers.flatMap(({ files, declared, shape, seen }) => [
      `  - files: [${files.map((glob) => JSON.stringify(glob)).join(', ')}]`,
      `    declared: ${literal(declared)}`,
      `    shape: ${literal(shape)}${counted(seen, 'names')}`,
      '    unique: true',
      '    why: themes of a host share one space of such names',
    ]),
  );
}

function assetLines({ mainSheet, bundles, assets: { made, served } }: Learned): string[] {
  const lines = [
    ...(mainSheet === undefined
      ? []
      : [`  main-sheet: ${quoted(mainSheet.path)}${counted(mainSheet.seen, 'the only stylesheet at the top')}`]),
    ...(bundles === undefined ? [] : [`  bundles-fact: ${quoted(bundles.fact)}`]),
    ...served.flatMap(({ folder, as, count }) => [
      `  served: # ${count} addresses say so`,
      `    - { folder: ${quoted(folder)}, as: ${quoted(as)} }`,
    ]),
  ];
  return [
    ...section('assets', lines),
    ...section(
      'made',
      made.map(
        ({ file, from, count }) =>
          `  - { file: ${quoted(file)}, from: ${quoted(from)} } # ${count} addresses lead to no file, but for this`,
      ),
    ),
  ];
}

/** Whether a field still names parents: one that was loosened is any text. */
function hasParents({ documents }: Pick<Learned, 'documents'>): boolean {
  return documents.some(({ fields }) => fields.some(({ fact, type, of }) => fact === 'parent' && (type === 'parent' || of === 'parent')));
}

function parentLines({ documents, parents }: Learned): string[] {
  if (parents === undefined || !hasParents({ documents })) return [];
  const served = [...parents.serves].filter(([, paths]) => paths.size > 0);
  return [
    '',
    `inheritance:`,
    '  kind: chain',
    ...(parents.builtIn.length === 0
      ? []
      : [`  built-in: [${parents.builtIn.map(quoted).join(', ')}] # named as parents, and not among the themes`]),
    ...(served.length === 0
      ? []
      : [
          '  built-in-files: # what their children ask for',
          ...served.map(([id, paths]) => `    ${quoted(id)}: [${[...paths].sort().map(quoted).join(', ')}]`),
        ]),
    '  inherits: ["**"]',
  ];
}
