import { parseDocument } from 'yaml';
import { findDeclarations } from '../contents/identifiers.ts';
import { matchesAny } from '../files/glob.ts';
import { fillShape, shapePattern, wholePattern } from '../names/shape.ts';
import type { Platform } from '../platform/platform.ts';
import type { Finding } from '../rules/engine/check.ts';
import { ANY_TEXT } from '../templates/described.ts';
import { withEndings } from '../templates/template-index.ts';
import { keyPath } from '../theme/documents.ts';
import type { Theme } from '../theme/theme.ts';
import { isKey } from './loosen.ts';

type Contract = Platform['contract'];
type Path = readonly (string | number)[];

/** A line that can be counted: where it is in the file, whether a theme has what it speaks of, and which findings are its own. */
export interface Countable {
  readonly path: Path;
  readonly what: string;
  /** Whether a theme could have it at all; any, when left out. */
  concerns?(theme: Theme): boolean;
  has(theme: Theme): boolean;
  isBlamed?(finding: Finding, theme: Theme): boolean;
}

/** The lines of a platform file that themes bear out or do not; what another word stands for (`like`) has no line of its own. */
export function countablesOf({ contract, source }: Platform): Countable[] {
  const document = parseDocument(source.text);
  return [
    ...documentLines(contract),
    ...fileLines(contract),
    ...templateLines(contract),
    ...assetLines(contract),
    ...nameLines(contract),
    ...parentLines(contract),
  ].filter(({ path }) => document.hasIn(path) || document.hasIn(path.slice(0, -1)));
}

function* documentLines({ documents, inheritance }: Contract): Generator<Countable> {
  for (const [i, document] of documents.entries()) {
    const at: Path = ['documents', i];
    const own = (theme: Theme) => theme.documents.filter(({ declared, state }) => declared === document && state !== 'missing');
    const title = document.title ?? document.path;
    yield {
      path: at,
      what: title,
      has: (theme) => own(theme).length > 0,
      isBlamed: ({ rule, file }, theme) => rule.startsWith('document/') && file === fillShape(document.path, theme.names),
    };
    for (const [j, field] of document.fields.entries()) {
      const key = keyPath(field).join('.');
      yield {
        path: [...at, 'fields', j],
        what: `${title}: ${key}`,
        concerns: (theme) => own(theme).length > 0,
        has: (theme) => theme.facts.some((fact) => fact.field.fact === field.fact && own(theme).includes(fact.document)),
        isBlamed: ({ rule, args }) =>
          /^(?:field|id|parent)\//.test(rule) &&
          (isKey(keyPath(field), String(args['key'])) || (rule === 'parent/missing' && field.fact === inheritance.fact)),
      };
    }
  }
}

/** Whether a theme has a file of a shape, in which {name}, {path} and {locale} are open. */
function hasFile({ tree, names }: Theme, shape: string): boolean {
  const pattern = wholePattern(shape, names);
  return tree.entries.some(({ path, kind }) => kind === 'file' && pattern.test(path));
}

function* fileLines({ files, images }: Contract): Generator<Countable> {
  for (const [i, { path, forbidden }] of files.entries()) {
    if (forbidden) continue;
    yield {
      path: ['files', i],
      what: path,
      has: (theme) => theme.tree.entries.some((entry) => matchesAny(entry.path, [fillShape(path, theme.names)])),
      isBlamed: ({ rule, args }, theme) =>
        rule === 'file/missing' && String(args['path']).split(' or ').includes(fillShape(path, theme.names)),
    };
  }
  for (const [i, { path, role }] of images.entries())
    yield {
      path: ['images', i],
      what: path,
      has: (theme) => theme.tree.get(fillShape(path, theme.names)) !== undefined,
      isBlamed: ({ rule, args }) => rule.startsWith('image/') && args['role'] === role,
    };
}

/** Whether a text of one of the files holds what a shape describes: of a tag, what stands before its open text. */
function holds(theme: Theme, globs: readonly string[], shape: string): boolean {
  const pattern = shapePattern(shape.split(ANY_TEXT)[0] ?? '', {}, '');
  return theme.tree.entries.some(
    ({ path, kind }) => kind === 'file' && matchesAny(path, globs) && pattern.test(theme.source(path)?.text ?? ''),
  );
}

function* templateLines({ templates, regions }: Contract): Generator<Countable> {
  if (templates === undefined) return;
  for (const [i, glob] of templates.files.entries())
    yield { path: ['templates', 'files', i], what: glob, has: ({ tree }) => tree.entries.some(({ path }) => matchesAny(path, [glob])) };
  for (const [role, { file }] of Object.entries(templates.roles))
    yield {
      path: ['templates', 'roles', role],
      what: `page ${role}`,
      has: ({ tree, names }) => withEndings(templates, fillShape(file, names)).some((path) => tree.get(path) !== undefined),
      isBlamed: ({ rule, args }) => rule === 'template/role' && args['role'] === role,
    };
  yield* tagLines(templates.language, ['templates', 'language'], templates.files);
  for (const [i, { files, language }] of templates.languages.entries()) {
    yield {
      path: ['templates', 'languages', i],
      what: `templates ${files.join(', ')}`,
      has: ({ tree }) => tree.entries.some(({ path }) => matchesAny(path, files)),
      isBlamed: ({ rule, file }) => rule === 'template/syntax' && matchesAny(file, files),
    };
    yield* tagLines(language, ['templates', 'languages', i, 'language'], files);
  }
  if (regions !== undefined)
    yield {
      path: ['regions', 'printed'],
      what: regions.printed,
      has: (theme) => holds(theme, templates.files, regions.printed),
      isBlamed: ({ rule }) => rule === 'region/undeclared',
    };
}

type Language = NonNullable<Contract['templates']>['language'];

function* tagLines(language: Language, at: Path, globs: readonly string[]): Generator<Countable> {
  if (typeof language !== 'object' || language.like !== undefined) return;
  for (const kind of ['include', 'extend'] as const)
    for (const [i, shape] of language[kind].entries())
      yield { path: [...at, kind, i], what: shape, has: (theme) => holds(theme, globs, shape) };
  for (const [i, { opens }] of language.sections.entries())
    yield {
      path: [...at, 'sections', i],
      what: opens,
      has: (theme) => holds(theme, globs, opens),
      isBlamed: ({ rule, args }) => rule === 'template/syntax' && opens.includes(String(args['name'])),
    };
}

function* assetLines({ assets, made, references, bundles }: Contract): Generator<Countable> {
  const main = assets['main-sheet'];
  if (main !== undefined)
    yield { path: ['assets', 'main-sheet'], what: main, has: ({ tree, names }) => tree.get(fillShape(main, names)) !== undefined };
  for (const [i, { folder }] of assets.served.entries())
    yield {
      path: ['assets', 'served', i],
      what: `${folder}/ is served`,
      has: ({ tree, names }) => tree.get(fillShape(folder, names)) !== undefined,
    };
  for (const [i, { from }] of made.entries()) yield { path: ['made', i], what: `made of ${from}`, has: (theme) => hasFile(theme, from) };
  for (const [i, { files, shape }] of references.entries())
    yield { path: ['references', i], what: shape, has: (theme) => holds(theme, files, fillShape(shape, theme.names)) };
  if (bundles !== undefined)
    yield {
      path: ['bundles', 'file'],
      what: bundles.file,
      has: (theme) => hasFile(theme, bundles.file),
      isBlamed: ({ rule }) => rule === 'bundle/unknown',
    };
}

function* nameLines({ strings, identifiers, 'host-files': hostFiles }: Contract): Generator<Countable> {
  if (strings !== undefined)
    yield {
      path: ['strings', 'file'],
      what: strings.file,
      has: (theme) => hasFile(theme, strings.file),
      isBlamed: ({ rule }) => rule.startsWith('strings/'),
    };
  for (const [i, { declared, shape, files }] of identifiers.entries()) {
    const own = (theme: Theme) => [...findDeclarations(theme)].filter((each) => each.shapes === shape && matchesAny(each.file, files));
    yield {
      path: ['identifiers', i],
      what: `${declared}: ${shape.join(', ')}`,
      concerns: (theme) => own(theme).length > 0,
      has: (theme) => own(theme).every(({ fits }) => fits),
      isBlamed: ({ rule, args, file }, theme) =>
        rule === 'identifier/prefix' && own(theme).some((each) => each.name === args['name'] && each.file === file),
    };
  }
  for (const [i, glob] of hostFiles.entries())
    yield { path: ['host-files', i], what: glob, has: ({ tree }) => tree.entries.some(({ path }) => matchesAny(path, [glob])) };
}

function* parentLines({ inheritance }: Contract): Generator<Countable> {
  for (const [i, id] of inheritance['built-in'].entries())
    yield { path: ['inheritance', 'built-in', i], what: `parent ${id}`, has: ({ parents }) => parents.includes(id) };
}
