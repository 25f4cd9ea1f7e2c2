import * as z from 'zod';
import { ARCHIVE_FORMAT_NAMES } from '../archives/format-names.ts';
import { findSyntax, syntaxNames } from '../documents/syntaxes.ts';
import { nearest } from '../text/nearest.ts';
import { KNOWN_LANGUAGES, withKnownLanguage } from './known-languages.ts';
import { checkedText, glob, ignorePattern, pattern, place } from '../configuration/place.ts';
import { problemOfSearch, problemOfTag } from '../names/shape.ts';
import { didYouMean } from '../text/sentence.ts';

/**
 * The language of platform files, version 1. Each description is the entry's documentation: the JSON Schema and
 * docs/platform-files.md carry it on. Names are plain words; a shape is literal text with placeholders
 * (`{id:snake}_{name}`), so it can always be matched in linear time.
 */

/** Languages of templates that are known by name: src/core/templates has a reader for the first, known-languages.ts a description of each other. */
export const TEMPLATE_LANGUAGES = ['mustache', 'jinja', 'liquid', 'ejs'] as const;

/** A shape that is searched for in texts. */
const searchShape = () => checkedText(problemOfSearch);

const Need = z
  .enum(['always', 'standalone', 'child', 'no'])
  .describe('When it is needed: always, in a theme without a parent, in one with a parent, or not at all');

const Release = z.coerce.string().regex(/^\d+(\.\d+)*$/, 'a release is written like 4 or 4.1');

/** From and up to which releases of the host an entry applies. */
const Span = {
  since: Release.optional().describe('The first release of the host that this applies to'),
  until: Release.optional().describe('The last release of the host that this applies to'),
};

const SyntaxName = z.string().refine((name) => findSyntax(name) !== undefined, {
  error: ({ input }) => {
    const near = nearest(String(input), syntaxNames());
    return `there is no syntax “${String(input)}”; ${didYouMean(near, `known: ${syntaxNames().join(', ')}`)}`;
  },
});

const Grammar = z.strictObject({
  pattern: pattern().describe('A regular expression that the whole name must match'),
  grammar: z.string().describe('The pattern in words, for people'),
  spelling: z
    .enum(['kebab', 'snake', 'camel', 'pascal', 'flat', 'free'])
    .default('kebab')
    .describe('How the words of a name are put together when Pionero proposes one'),
  reserved: z.array(z.string()).default([]).describe('Names that the host keeps for itself'),
  'max-length': z.int().positive().optional().describe('The greatest length, in characters'),
});

export const FIELD_TYPES = [
  'text',
  'id',
  'vendor',
  'version',
  'range',
  'release',
  'url',
  'email',
  'color',
  'license',
  'language',
  'boolean',
  'integer',
  'choice',
  'list',
  'map',
  'path',
  'parent',
  'bundle',
  'section',
  'theme',
] as const;

const FieldType = z.enum(FIELD_TYPES);

const Condition = z.strictObject({
  fact: z.string().describe('The fact that decides'),
  is: z
    .preprocess((given) => (typeof given === 'string' ? [given] : given), z.array(z.string()).min(1))
    .describe('The values of it with which the condition holds; “*”: any, as long as it is stated'),
});

const OtherFields = z.enum(['allowed', 'ignored']);

const Field = z.strictObject({
  key: z
    .union([z.string(), z.array(z.string()).min(1)])
    .refine((key) => typeof key === 'string' || key.filter((part) => part === '**').length <= 1, 'a key has at most one “**”')
    .describe(
      'The place in the document: a key, or a path of keys; a key can hold {id}, or * for any text: [modules, "*", styles]; "**" stands for keys at any depth',
    ),
  fact: z.string().describe('The fact that the field carries: id, title, version, parent, … or a name of your own'),
  type: FieldType.default('text').describe('What the value must be'),
  of: FieldType.optional().describe('For a list or map: what each entry must be'),
  or: z.array(FieldType).min(1).optional().describe('What else the value may be, where hosts take more than one type'),
  shape: z.string().optional().describe('For a value that holds facts among other text: look:{id}'),
  pattern: pattern().optional().describe('A regular expression that the whole value must match, beside its type'),
  grammar: z.string().optional().describe('The pattern in words, for people'),
  required: Need.default('no'),
  'required-when': Condition.optional().describe('Required only where another fact has one of these values'),
  'allowed-when': Condition.optional().describe('Counts only where another fact has one of these values: elsewhere it is a mistake'),
  ...Span,
  separator: z.string().optional().describe('For a list that is written as one text: what stands between its entries'),
  values: z.array(z.string()).optional().describe('The values that the host allows'),
  none: z.string().optional().describe('The value that means “none”'),
  default: z.string().optional().describe('What the host takes when the field is not there'),
  'max-length': z.int().positive().optional(),
  translations: z.string().optional().describe('The key of a translation, beside the field’s own: Name[{locale}]'),
  'other-fields': OtherFields.optional().describe(
    'For a field that is a section: whether keys in it that are not listed are allowed; the document’s answer when left out',
  ),
  'of-others': z
    .boolean()
    .default(false)
    .describe('The value names something of another program, which a rename of the theme leaves as it is'),
  marker: z.boolean().default(false).describe('Marks a kit: a finished theme must not have it, and a clone loses it'),
  under: place().optional().describe('For a path: the folder that it starts from, when that is not the theme’s'),
  outside: z.literal('allowed').optional().describe('For a path: whether it may lead out of the theme, to what nobody here can judge'),
  'replaced-by': z.string().optional().describe('The key that newer releases want instead'),
  'child-wants': z.string().optional().describe('The value that a child nearly always wants; `check --fix` writes it'),
  about: z.string().optional().describe('What the field is for, in one sentence'),
});

const UsedEntries = z.strictObject({
  entries: z
    .union([z.string(), z.array(z.string())])
    .default([])
    .describe(
      'The part of the document, by its key or the keys that lead to it, whose entries are meant; the whole document when it is left out',
    ),
  as: checkedText((value) => (/^[^{}]*\{(?:name|path)\}[^{}]*$/.test(value) ? undefined : 'it needs {name}, or {path}, once')).describe(
    'What other files call an entry: theme_{name}; with {path}, also entries within it: theme.{path}',
  ),
  'asked-in': z
    .object({
      files: z.array(glob()).min(1),
      within: z.array(checkedText(problemOfTag)).default([]),
      optional: z.array(searchShape()).default([]),
    })
    .strict()
    .optional()
    .describe(
      'Globs of the files that ask for entries, and the tags in them in which they do; each entry must be declared, but for those that a file can do without, as shapes tell: if theme_{name}',
    ),
  known: z.record(z.string(), z.array(z.string())).default({}).describe('Entries that the host’s own themes declare, by the theme'),
  declared: z.array(searchShape()).default([]).describe('How a file makes such a name itself: set theme_{name}'),
});

const DocumentRule = z.strictObject({
  path: place().describe(
    'The file, from the theme’s root; may hold {id}, {vendor}; with {name} or {locale} it describes every file that fits',
  ),
  title: z.string().optional().describe('What messages call it'),
  syntax: SyntaxName.describe('yaml, comment-header, …'),
  options: z.record(z.string(), z.unknown()).default({}).describe('Settings of the syntax, such as what opens and closes a header'),
  'begins-with': z.string().optional().describe('The text of such a file without any fields, where its syntax alone does not tell'),
  required: Need.default('no'),
  'required-when': Condition.optional().describe('Required only where a fact, of another document, has one of these values'),
  ...Span,
  without: z.string().optional().describe('What the host does when the document is missing or cannot be read'),
  'other-fields': OtherFields.default('ignored').describe('“ignored”: a field that is not listed is a mistake'),
  'used-as': z
    .array(UsedEntries)
    .default([])
    .describe('Parts whose entries other files ask for under a longer name: a rename changes both or neither'),
  fields: z.array(Field).default([]).describe('In the order in which new ones are written'),
});

const FileRule = z.strictObject({
  path: glob().describe('A path or a glob from the theme’s root; may hold {id}'),
  kind: z.enum(['file', 'folder']).default('file'),
  required: Need.default('no'),
  'required-when': Condition.optional().describe('Required only where a fact has one of these values'),
  forbidden: z.boolean().default(false),
  ...Span,
  'one-of': z.array(glob()).optional().describe('Other paths that do as well'),
  empty: z.enum(['allowed', 'blank', 'refused']).default('allowed').describe('What the host makes of an empty one'),
  'moved-to': place().optional().describe('The place where newer releases look (from release `since` on)'),
  without: z.string().optional().describe('What the host does when it is missing'),
});

const ImageRule = z.strictObject({
  role: z.string(),
  path: place(),
  formats: z.array(z.enum(['png', 'jpg', 'gif', 'webp', 'svg', 'ico'])).min(1),
  width: z.int().positive().optional().describe('Pixels'),
  height: z.int().positive().optional().describe('Pixels'),
  'min-width': z.int().positive().optional().describe('Pixels, for a host that takes larger ones too'),
  'min-height': z.int().positive().optional().describe('Pixels, for a host that takes larger ones too'),
  ratio: z
    .string()
    .regex(/^[1-9]\d*:[1-9]\d*$/)
    .optional()
    .describe('Width to height, for a host that scales: 4:3'),
  'max-bytes': z.int().positive().optional(),
  required: Need.default('no'),
  recommended: z.boolean().default(false),
  without: z.string().optional().describe('What the host shows when it is missing'),
});

const Role = z.strictObject({
  file: place().describe('The template of this role, from the theme’s root'),
  ...Span,
  'replaced-by': z.string().optional().describe('The role that newer releases ask for instead, after `until`'),
  else: z.string().optional().describe('The role that serves when this one has no template'),
  about: z.string().optional(),
  prints: z.array(z.string()).default([]).describe('What the page is for: its template, or a partial of it, prints at least one of these'),
});

const Fragment = z.strictObject({
  text: z.string().describe('What the template must hold, letter for letter'),
  'when-holds': z.string().default('').describe('Only templates that hold this text need it'),
  files: z.array(glob()).optional().describe('Globs of the templates that need it, where it is not all'),
  'any-case': z.boolean().default(false).describe('Whether capitals and small letters are the same'),
  before: z.string().optional().describe('It must stand before this text; `check --fix` puts it there'),
  why: z.string().describe('What goes wrong without it'),
});

/** How a tag of a template language looks. {text} stands for anything, up to what follows it. */
const tag = () => checkedText(problemOfTag);
const tags = () => z.array(tag()).default([]);

const LanguageNames = z
  .strictObject({
    called: z.string().describe('What such a name is, for people: filter'),
    shape: checkedText((value) => (value.includes('{name}') ? problemOfSearch(value) : 'it must hold {name}'))
      .default('')
      .describe('How it is used: |{name}; a language that is known by name has its filters, functions, tags and blocks written'),
    within: tags().describe('The tags in which it is looked for; the whole template where none is named'),
    known: z.array(z.string()).describe('Those that the host has; * stands for any rest'),
    'any-case': z.boolean().default(false).describe('Whether capitals and small letters are the same'),
    declared: z.array(searchShape()).default([]).describe('How templates make their own: macro {name}('),
    once: z.boolean().default(false).describe('Whether the host stops at a template that has the same one twice'),
    inherited: z
      .boolean()
      .default(false)
      .describe('Whether it fills a place of the template that this one is laid into: then that template, or the host’s, must have it'),
  })
  .describe('Names of the language or of the host, of which a misspelled one is found');

const DescribedLanguage = z
  .strictObject({
    like: z.enum(Object.keys(KNOWN_LANGUAGES)).optional().describe('A language that is known by name, of which this one is a kind'),
    called: z.string().optional().describe('What people call the language'),
    comment: tags().describe('What is not shown: {# {text} #}'),
    include: tags().describe('How another template is taken in: {% include "{path}" %}; a quote stands for either kind'),
    extend: tags().describe('How a template says what it is laid into: {% extends "{path}" %}'),
    print: tags().describe('How a value is printed, made harmless: {{ {text} }}'),
    raw: tags().describe('How a value is printed as it is: {{{ {text} }}}'),
    sections: z
      .array(z.strictObject({ opens: tag(), closes: tag() }))
      .default([])
      .describe('Conditions, lists and blocks by what begins and what ends each: { opens: "{% if {text} %}", closes: "{% endif %}" }'),
    code: tags().describe(
      'Tags with statements of JavaScript: <% {text} %>. Values that are printed are JavaScript then, too, and a template that cannot be compiled is found',
    ),
    names: z.array(LanguageNames).default([]).describe('Filters, functions, tags and blocks that the host has, by kinds'),
    opens: tags().describe('What begins a section in a language in which any closing tag ends the innermost one'),
    closes: tags().describe('What ends one there: {% end %}'),
  })
  .describe('The shapes of a language’s tags. Pionero does not judge tags that they leave out, and the stand-in host shows no pages in it');

const Language = z.preprocess(withKnownLanguage, z.union([z.enum(TEMPLATE_LANGUAGES), DescribedLanguage]));

const Templates = z.strictObject({
  language: Language.default('mustache').describe('The language’s name, or its tags'),
  languages: z
    .array(z.strictObject({ files: z.array(glob()).min(1).describe('Globs of the files that are written in it'), language: Language }))
    .default([])
    .describe('Other languages that templates may be written in, by their files'),
  endings: z
    .array(z.string().regex(/^\w+$/))
    .default([])
    .describe('Endings of which the template of a page role, and a partial, may have any: [ejs, njk]'),
  files: z.array(glob()).min(1).describe('Globs of all templates'),
  roles: z.record(z.string(), Role).describe('Page roles and the order in which they fall back'),
  front: z.string().optional().describe('The role that visitors of a site come to first; the first one when left out'),
  'parent-named': z
    .array(checkedText((value) => (value.includes('{id}') ? problemOfSearch(value) : 'it must hold {id}')))
    .default([])
    .describe('Where else a template names a theme that it builds on: skinpath="skins/{id}"'),
  'any-page': z.boolean().default(false).describe('Whether any template can be a page of its own, or be asked for by a site’s settings'),
  'named-theme': checkedText((value) => (/\{id\}/.test(value) && /\{path\}/.test(value) ? undefined : 'it must hold {id} and {path}'))
    .optional()
    .describe('How an include names the theme that its file is in: {id}/{path}'),
  fragments: z.array(Fragment).default([]),
  partials: z
    .strictObject({
      file: place().describe('Where a partial lies: partials/{name}.html'),
      include: z
        .preprocess((given) => (typeof given === 'string' ? [given] : given), z.array(searchShape()))
        .default([])
        .describe('How it is included, one shape or several, when the language does not say: {{> {name} }}'),
      rooted: z.boolean().default(false).describe('Whether an include that begins with / starts from the theme'),
      relative: z
        .enum(['never', 'dotted', 'first', 'always'])
        .default('never')
        .describe(
          'Whether an include starts from the folder of the file that it stands in: never, when it begins with a dot, when a file is there, or always',
        ),
    })
    .optional(),
});

/** A file that is there only once something is made of another one. */
const MadeFile = z.strictObject({
  file: place().describe('What is referred to: static/{path}.css'),
  from: place().describe('What it is made of: static/{path}.css_t'),
});

const Served = z.strictObject({
  folder: place().describe('A folder of the theme'),
  as: z
    .union([z.literal(''), place()])
    .describe('The name under which pages ask for it; "" when what is in it lies at the root of the site'),
});

const Assets = z.strictObject({
  'theme-root': z.string().optional().describe('What a template prints for the theme’s own folder'),
  addresses: z
    .array(searchShape())
    .default([])
    .describe("How templates ask for a file of the theme, when that is more than a prefix: {{ pathto('{path}', 1) }}"),
  served: z.array(Served).default([]).describe('Folders that pages know under another name'),
  'sheets-fact': z.string().optional().describe('The fact that lists the stylesheets of every page'),
  'bundles-fact': z.string().optional().describe('The fact that lists the bundles of every page'),
  'sheets-printed-by': z.string().optional().describe('The template value that prints the links to the stylesheets: host.head'),
  'main-sheet': place().optional().describe('The stylesheet that the host loads by itself'),
});

const Mention = z.strictObject({
  files: z.array(glob()).min(1).describe('Globs of the files that hold it'),
  shape: searchShape().describe('How a file of the theme is named there: image("{path}")'),
  file: z
    .preprocess((given) => (typeof given === 'string' ? [given] : given), z.array(place()).min(1))
    .optional()
    .describe(
      'The file that is meant, where the text has only a part of its path, or none: templates/{name}.html; or one of several, as a list',
    ),
  under: place().optional().describe('The folder that the path starts from, when that is not the theme’s'),
  relative: z.boolean().default(false).describe('Whether the path starts from the folder of the file that it stands in'),
});

const Commons = z.strictObject({
  fact: z.string().describe('The fact that lists the bags of files that a theme shares'),
  home: place().describe('Where a bag lies in the host: commons/{id}'),
});

const Inheritance = z.strictObject({
  kind: z.enum(['none', 'parent', 'chain']).describe('No parents, one parent, or parents of parents'),
  fact: z.string().default('parent').describe('The fact that names the parent, or lists the parents'),
  'vendor-fact': z.string().optional().describe('The fact that names the parent’s vendor'),
  'made-for': z.string().optional().describe('The fact that says which versions of its parent a child is made for, as a range'),
  'built-in': z.array(z.string()).default([]).describe('Parents that every host brings itself'),
  'built-in-files': z
    .record(z.string(), z.array(glob()))
    .default({})
    .describe('By the id of such a parent: globs of the paths that it serves. A child of one that serves files does not stand alone'),
  'always-last': z.string().optional().describe('The theme that ends every chain, named or not'),
  shadows: z.array(glob()).default([]).describe('Globs of files that replace the parent’s file of the same path unnoticed'),
  merges: z
    .array(glob())
    .default([])
    .describe('Globs of files of which the host takes each entry from the nearest theme that has it: a child’s need not have them all'),
  commons: Commons.optional(),
  inherits: z.array(glob()).default([]).describe('Globs of what a child takes from its parent when it has none itself'),
  styles: z
    .strictObject({
      fact: z.string().describe('The fact that says whether the parent’s styles are loaded'),
      loaded: z.array(z.string()).describe('The values with which they are; “*”: whatever it says'),
      without: z.string().describe('What a visitor sees when they are not'),
    })
    .optional(),
});

const Identifier = z.strictObject({
  files: z.array(glob()).min(1).describe('Globs of the files it is looked for in'),
  declared: searchShape().describe('How code declares it: function {name}('),
  shape: z
    .preprocess((given) => (typeof given === 'string' ? [given] : given), z.array(z.string()).min(1))
    .describe('What the name must look like, in one way or several: {id:snake}_{name}'),
  unique: z.boolean().default(false).describe('Whether two themes of a host must not both have it'),
  ...Span,
  why: z.string(),
});

/** A function, a tag or a class name that a release of the host calls otherwise, or has taken away. */
const Change = z.strictObject({
  since: Release.describe('The first release in which the new way works; without a new way, the first in which the old one does not'),
  gone: Release.optional().describe('The first release in which the old way does not work any more; that of `since` when left out'),
  files: z.array(glob()).min(1).describe('Globs of the files in which it is written'),
  written: searchShape().describe('How older releases have it: add_part("{name}"'),
  now: z
    .string()
    .optional()
    .describe(
      'How newer releases have it, with the placeholders of `written`; none where there is no one answer, and a person must decide',
    ),
  why: z.string().describe('What goes wrong with the old way'),
});

/** A package of another format, where it is made in another way. */
const PackageForm = z.strictObject({
  name: place().optional().describe('The archive’s name without its extension; may hold {version} too'),
  top: place().optional().describe('The folder that the theme lies in'),
  adds: z
    .array(
      z.strictObject({
        path: place().describe('From the archive’s root'),
        text: z
          .string()
          .describe('May hold {id}, {version} and other facts that are one text; a line is left out when the theme has not the fact'),
      }),
    )
    .default([])
    .describe('Files that the archive holds beside the theme'),
  records: place().optional().describe('A list of all files with their SHA-256 and sizes, as wheels have it (PEP 376)'),
  next: z.array(z.string()).optional().describe('What to do by hand after it was packed; may hold {id} and {archive}'),
});

const Package = z.strictObject({
  formats: z.array(z.enum(ARCHIVE_FORMAT_NAMES)).min(1).describe('The first is the default'),
  name: place().default('{id}').describe('The archive’s name without its extension'),
  top: place().default('{id}').describe('The folder that everything in the archive lies in; "" for an archive that is the theme itself'),
  forms: z.partialRecord(z.enum(ARCHIVE_FORMAT_NAMES), PackageForm).default({}).describe('What is different for a format'),
  'leave-out': z.array(ignorePattern()).default([]).describe('What never goes in, in the syntax of ignore files'),
  'max-bytes': z.int().positive().optional().describe('The greatest size of the archive'),
  submission: z
    .strictObject({ requires: z.array(glob()).default([]), forbids: z.array(glob()).default([]) })
    .default({ requires: [], forbids: [] })
    .describe('Globs of what a submission must and must not hold'),
});

const Regions = z.strictObject({
  fact: z.string().describe('The fact that declares them: a map of names and labels, or a list'),
  printed: searchShape().describe('How a template prints one: {{{areas.{name}}}}'),
  defaults: z.array(z.string()).default([]).describe('What the host offers when none is declared'),
  'per-role': z.boolean().default(false).describe('The fact is a map of roles, each with its own regions'),
});

const Bundles = z.strictObject({
  file: place().describe('Where a bundle of a name is defined: bundles/{name}.yaml'),
  sheets: z.string().default('sheets').describe('The fact of that document that lists its stylesheets'),
  scripts: z.string().default('scripts').describe('The fact that lists its scripts'),
});

const Strings = z.strictObject({
  file: place().describe('Where a catalogue lies: strings/{locale}/look_{id}.po'),
  format: z.enum(['po', 'ini', 'json', 'yaml', 'php', 'javascript', 'key-value']).describe('The format of the catalogues'),
  options: z.record(z.string(), z.unknown()).default({}).describe('Settings of the format, as for a document: at: "$texts ="'),
  keys: checkedText((value) => (value.includes('{name}') ? undefined : 'it must hold {name}'))
    .optional()
    .describe('What the key of a text must look like: {id:flat}-{name}'),
  'host-keys': z.array(z.string()).default([]).describe('Texts that the host has itself, which a theme may ask for; * stands for any rest'),
  incomplete: z.boolean().default(false).describe('Whether catalogues may lack texts: the host then takes those of the first language'),
  used: searchShape().optional().describe('How templates and code ask for a text: {{words.{name}}}'),
  'used-in': z.array(glob()).default([]).describe('Globs of the files that ask for texts, where it is not any template and any code'),
  languages: z.string().optional().describe('The fact that lists the languages that a theme says it speaks; each needs a catalogue'),
  'written-in': z.string().optional().describe('The language that the texts themselves are in: it needs no catalogue'),
  'language-key': z.string().optional().describe('The key by which a catalogue says its own language'),
});

const Kits = z.strictObject({
  folder: z
    .union([place(), z.array(glob()).min(1)])
    .describe(
      'The folder in which a parent keeps its own kits, or several, as globs: every folder in it that holds the platform’s documents is a kit',
    ),
  'not-for-use': z.string().optional().describe('The marker field of a kit that is not offered'),
  placeholders: z
    .array(z.string().min(3))
    .default([])
    .describe('What stands for the new theme’s name in kits, in any spelling: YOURTHEME, %theme%'),
  'delete-lines': z
    .array(z.string().min(4))
    .default([])
    .describe('What a comment in a kit says when it is to be deleted, in data with the entries below it'),
});

export const PlatformSchema = z.strictObject({
  pionero: z.literal('platform/1').describe('The version of this language'),
  extend: z
    .string()
    .optional()
    .describe('The name or path of a platform file that this one changes: maps are merged, lists and values replaced'),
  name: z
    .string()
    .regex(/^[a-z][a-z0-9-]*$/)
    .describe('What the command line calls the platform'),
  title: z.string(),
  summary: z.string(),
  releases: z.array(Release).min(1).describe('The host’s releases, oldest first'),
  'tried-with': z.array(z.string()).default([]).describe('The versions of the host with which this file was tried'),
  home: place().describe('Where a theme is in a host: themes/{id}; with an ending, a theme is one file: themes/{id}.css'),
  'theme-is': z
    .enum(['folder', 'file'])
    .optional()
    .describe('What lies there, where the ending of the home does not tell: a folder can be called {id}.theme'),
  id: Grammar,
  vendor: Grammar.optional(),
  recognise: z
    .array(z.strictObject({ path: glob(), holds: z.string().optional() }))
    .min(1)
    .describe('By which files a theme of this platform is told from others'),
  documents: z.array(DocumentRule).describe('The files that carry facts; none, on a host that knows a theme by its files alone'),
  files: z.array(FileRule).default([]),
  images: z.array(ImageRule).default([]),
  templates: Templates.optional(),
  assets: Assets.default({ addresses: [], served: [] }),
  made: z
    .array(MadeFile)
    .default([])
    .describe('Files that a host or a tool makes of others: what refers to them is right when those are there'),
  references: z
    .array(Mention)
    .default([])
    .describe('Where else files of the theme are named, by the shapes of the place: each must be there'),
  bundles: Bundles.optional(),
  regions: Regions.optional(),
  strings: Strings.optional(),
  kits: Kits.optional(),
  inheritance: Inheritance.default({
    kind: 'none',
    fact: 'parent',
    'built-in': [],
    'built-in-files': {},
    merges: [],
    shadows: [],
    inherits: [],
  }),
  identifiers: z.array(Identifier).default([]),
  changes: z
    .array(Change)
    .default([])
    .describe('What releases of the host call otherwise, or have taken away, in the code and the templates of themes'),
  'host-names': z
    .array(z.string())
    .default([])
    .describe('Class names, properties and functions that the host owns and themes use as they are; * stands for any rest: menu-*'),
  'host-files': z
    .array(glob())
    .default([])
    .describe(
      'Files whose names belong to the host: programs ask for them by these names, so a rename never touches them, and nothing in the theme need name them',
    ),
  package: Package,
  'next-steps': z
    .strictObject({
      new: z.array(z.string()).default([]),
      install: z.array(z.string()).default([]),
      meta: z.array(z.string()).default([]),
      pack: z.array(z.string()).default([]),
    })
    .default({ new: [], install: [], meta: [], pack: [] })
    .describe('What to do by hand afterward; may hold {id}, and after packing {archive}'),
  sample: z.record(z.string(), z.unknown()).default({}).describe('What the stand-in host gives to templates'),
  states: z
    .record(
      checkedText((value) => (/^[a-z][a-z0-9-]*$/.test(value) ? undefined : 'it needs small letters, digits and hyphens')),
      z.strictObject({
        roles: z.array(z.string()).min(1).describe('The pages that can be in that state'),
        sample: z.record(z.string(), z.unknown()).describe('What is different then: maps are merged, anything else is replaced'),
      }),
    )
    .default({})
    .describe('What a theme must stand besides: an empty list, a long word, a search without results, a visitor who has signed in'),
});

/** The contents of a platform file, with its defaults filled in. */
export type PlatformContract = z.infer<typeof PlatformSchema>;
export type DocumentContract = z.infer<typeof DocumentRule>;
export type TemplateContract = z.infer<typeof Templates>;
export type NamesContract = z.infer<typeof LanguageNames>;
export type UsedEntriesContract = z.infer<typeof UsedEntries>;
export type FieldContract = z.infer<typeof Field>;
export type FragmentContract = z.infer<typeof Fragment>;

export type ChangeContract = z.infer<typeof Change>;
export type ImageContract = z.infer<typeof ImageRule>;
export type FieldKind = z.infer<typeof FieldType>;
export type NameGrammar = z.infer<typeof Grammar>;
export type NeedCondition = z.infer<typeof Need>;
export type FactCondition = z.infer<typeof Condition>;
