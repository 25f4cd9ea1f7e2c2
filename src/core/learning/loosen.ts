import type { Finding } from '../rules/engine/check.ts';
import { escapePattern } from '../text/pattern.ts';
import { matchesAny, matchesGlob } from '../files/glob.ts';
import { globOfShape } from './id-shapes.ts';
import type { Learned, LearnedField, LearnedLanguage } from './learned.ts';

/** A line of what was learned that a finding comes from: what it is called, and how it is made to ask for less. */
export interface Claim {
  readonly name: string;
  /** How much is lost with it: of lines that refuse as many, the one that is worth least goes first. */
  readonly worth: number;
  /** Takes the line back, wholly or in part. */
  loosen(): void;
}

type Found = Omit<Claim, 'worth'>;
type Finder = (learned: Learned, finding: Finding, parents: readonly string[]) => Found | undefined;

/** By rule, the line that its findings come from. A rule that is not here judges no line. */
const CLAIMS: Readonly<Record<string, Finder>> = {
  'document/missing': (learned, { file }) => onDocument(learned, file, 'required', (document) => void (document.required = false)),
  'document/syntax': (learned, { file }) =>
    onDocument(learned, file, 'syntax', (document) => void learned.documents.splice(learned.documents.indexOf(document), 1)),
  'field/missing': (learned, finding) => onField(learned, finding, 'required', (field) => void (field.required = false)),
  'field/type': onType,
  'field/path': onType,
  'field/section': onType,
  'id/agrees': onType,
  'id/grammar': (learned) => ({
    name: 'id pattern',
    loosen: () => void (learned.grammar = { pattern: '^[^/\\\\]+$', grammar: 'a folder’s name', spelling: 'free' }),
  }),
  'parent/missing': (learned) => {
    const field = learned.documents.flatMap(({ fields }) => fields).find(({ fact }) => fact === 'parent');
    return field === undefined ? undefined : { name: 'parent', loosen: () => asText(field) };
  },
  'file/missing': (learned, { args }) => {
    const file = learned.files.find(({ path }) => path === args['path'] || fits(path, String(args['path'])));
    return file === undefined ? undefined : { name: `file ${file.path}`, loosen: () => void (file.required = false) };
  },
  'template/partial': onInclude,
  'partial/circle': onInclude,
  'identifier/prefix': (learned, { file }) => {
    const blamed = learned.identifiers.find(({ files }) => matchesAny(file, files));
    return blamed === undefined
      ? undefined
      : {
          name: `names in ${blamed.files[0]}`,
          loosen: () => void (learned.identifiers = learned.identifiers.filter((each) => each !== blamed)),
        };
  },
  'region/undeclared': (learned) => ({ name: 'regions', loosen: () => void (learned.regions = undefined) }),
  'bundle/unknown': (learned) => ({ name: 'bundles', loosen: () => withoutBundles(learned) }),
  'strings/syntax': (learned) => ({ name: 'strings', loosen: () => void (learned.strings = undefined) }),
  'template/role': ({ templates }, { args }) =>
    templates === undefined
      ? undefined
      : {
          name: `role ${args['role']}`,
          loosen: () => void (templates.roles = templates.roles.filter(({ role }) => role !== args['role'])),
        },
  'template/syntax': ({ templates }, { file, args }) => {
    if (templates === undefined) return undefined;
    const other = templates.languages.find(({ files }) => matchesGlob(file, files));
    const holder = other ?? templates;
    const word = String(args['name'] ?? '');
    return {
      name: `sections ${word} ${other?.files ?? ''}`.trim(),
      loosen: () => void (holder.language = withoutSections(holder.language, word)),
    };
  },
};

export const JUDGING_RULES: ReadonlySet<string> = new Set(Object.keys(CLAIMS));

/** The worth of a document, an include, a file beside that of a field. */
const WORTH: Readonly<Record<string, number>> = {
  'document/missing': 9,
  'document/syntax': 8,
  'template/partial': 5,
  'partial/circle': 5,
  'template/syntax': 7,
  'file/missing': 4,
  'id/agrees': 3,
  'field/missing': 2,
};

/** The line that a finding comes from; undefined for what no line can be blamed for. @param parents what the theme builds on */
export function claimOf(learned: Learned, finding: Finding, parents: readonly string[]): Claim | undefined {
  const found = CLAIMS[finding.rule]?.(learned, finding, parents);
  return found === undefined ? undefined : { ...found, worth: WORTH[finding.rule] ?? 1 };
}

/** A language of a known name is taken for its learned sections first, then loses those that a word stands in. */
function withoutSections(language: LearnedLanguage, word: string): LearnedLanguage {
  if (language.like !== undefined) return { ...language, like: undefined };
  const rest = language.sections.filter(({ opens }) => word === '' || !opens.includes(word));
  return { ...language, sections: rest.length < language.sections.length ? rest : [] };
}

/** Whether a finding's key is a field's: \* stands for any part of it. */
export function isKey(key: readonly string[], found: string): boolean {
  return new RegExp(`^${key.map((part) => (part === '*' ? '.+' : escapePattern(part))).join('\\.')}$`).test(found);
}

/** Whether a path is of a shape with {id} in it. */
function fits(shape: string, path: string): boolean {
  return shape === path || matchesGlob(path, globOfShape(shape));
}

function onDocument(
  learned: Learned,
  file: string,
  what: string,
  loosen: (document: Learned['documents'][number]) => void,
): Found | undefined {
  const document = learned.documents.find(({ path }) => fits(path, file));
  return document === undefined ? undefined : { name: `${document.path} ${what}`, loosen: () => loosen(document) };
}

function onField({ documents }: Learned, { file, args }: Finding, what: string, loosen: (field: LearnedField) => void): Found | undefined {
  const key = String(args['key']);
  const fields = documents.filter(({ path }) => fits(path, file)).flatMap((document) => document.fields);
  const field = fields.find((each) => isKey(each.key, key));
  return field === undefined ? undefined : { name: `${key} ${what}`, loosen: () => loosen(field) };
}

/** A field of another type becomes any text; a text that is still too narrow is left out. */
function onType(learned: Learned, finding: Finding): Found | undefined {
  return onField(learned, finding, 'type', (field) => {
    if (field.type !== 'text' || field.pattern !== undefined || field.shape !== undefined) asText(field);
    else for (const { fields } of learned.documents) if (fields.includes(field)) fields.splice(fields.indexOf(field), 1);
  });
}

/** A field of any text. */
function asText(field: LearnedField): void {
  Object.assign(field, { type: 'text', why: 'of several kinds' });
  for (const key of ['of', 'separator', 'shape', 'values', 'pattern', 'grammar', 'under', 'none'] as const) delete field[key];
}

/** Lists of bundles become lists of anything. */
function withoutBundles(learned: Learned): void {
  learned.bundles = undefined;
  for (const field of learned.documents.flatMap(({ fields }) => fields)) if (field.of === 'bundle') delete field.of;
}

/** An include that leads nowhere may be served by a parent of the host's own; or names begin somewhere else. */
function onInclude(learned: Learned, { args }: Finding, ancestors: readonly string[]): Found | undefined {
  const { templates, parents } = learned;
  if (templates === undefined) return undefined;
  const path = args['path'];
  const server = parents?.builtIn.find((id) => ancestors.includes(id));
  if (server !== undefined && typeof path === 'string' && !/\s/.test(path))
    return {
      name: `served ${server} ${path}`,
      loosen: () => void parents?.serves.set(server, new Set([...(parents.serves.get(server) ?? []), path])),
    };
  return {
    name: 'includes',
    loosen: () => {
      if (templates.partials?.relative === 'never') templates.partials.relative = 'first';
      else templates.partials = undefined;
    },
  };
}
