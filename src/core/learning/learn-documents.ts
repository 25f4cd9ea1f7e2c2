import { compareText } from '../files/file-tree.ts';
import { isThirdParty, isInThirdPartyFolder } from '../text/file-kinds.ts';
import type { MapNode } from '../documents/syntax.ts';
import { findSyntax } from '../documents/syntaxes.ts';
import { factNamed } from './fact-names.ts';
import type { LearnedDocument, LearnedField } from './learned.ts';
import { learnFields } from './learn-fields.ts';
import { catalogueShape } from './learn-strings.ts';
import { canBeDocument, readersFor, readWith, textsOf, type DocumentText, type ReadDocument, type Reader } from './readers.ts';
import { ThemeSet } from './theme-set.ts';

/** A share of the themes that has to have a file for it to be one of the host's documents. */
const COMMON = 0.6;
/** More candidates than this are a theme's own data. */
const MOST = 60;

/** The documents of a set of themes, the likeliest manifest first; none where nothing tells what a theme is. */
export function learnDocuments(set: ThemeSet, wanted?: string): LearnedDocument[] {
  const candidates = set
    .commonShapes(set.size === 1 ? 1 : COMMON)
    .filter(
      ({ shape }) =>
        shape.split('/').length <= 2 &&
        canBeDocument(shape) &&
        catalogueShape(shape) === undefined &&
        !isThirdParty(shape) &&
        !isInThirdPartyFolder(shape),
    )
    .slice(0, MOST);
  const found = candidates.flatMap(({ shape, count }) => {
    const document = learnDocument(set, shape, textsOf(set, shape), count);
    return document === undefined ? [] : [{ document, weight: weightOf(document, set.size) + (shape === wanted ? 100 : 0) }];
  });
  return found
    .filter(({ weight }) => weight > 0)
    .sort((a, b) => b.weight - a.weight || compareText(a.document.path, b.document.path))
    .map(({ document }) => document);
}

/** The fields that the texts of one document share; undefined where no syntax reads nearly all of them. @param count the themes that have it */
export function learnDocument(set: ThemeSet, shape: string, texts: readonly DocumentText[], count: number): LearnedDocument | undefined {
  const best = bestReader(shape, texts);
  if (best === undefined) return undefined;
  const syntax = findSyntax(best.reader.syntax);
  const fields = learnFields(set, best.read).filter(({ key }) => syntax?.problemOfPath?.(key) === undefined);
  if (fields.length === 0) return undefined;
  const required = ThemeSet.isNeeded(count, set.size);
  return { path: shape, ...best.reader, required, fields: GENERIC.test(shape) ? ofTheHost(fields) : fields, seen: { count, of: set.size } };
}

/** The first reader that reads nearly all of the texts; of those that read most of them, the best. */
function bestReader(shape: string, texts: readonly DocumentText[]): { reader: Reader; read: ReadDocument[] } | undefined {
  const readers = new Map(
    texts.slice(0, 5).flatMap(({ text }) => readersFor(shape, text).map((reader) => [JSON.stringify(reader), reader] as const)),
  );
  let best: { reader: Reader; read: ReadDocument[]; keys: number } | undefined;
  for (const reader of readers.values()) {
    const read = texts.flatMap(({ theme, text }) => {
      const root = readWith(reader, text);
      return root === undefined ? [] : [{ theme, root }];
    });
    const keys = read.reduce((sum, { root }) => sum + keysIn(root), 0);
    const isBetter =
      best === undefined ||
      read.length > best.read.length ||
      (read.length === best.read.length && keys > best.keys && reader.options['lone-keys'] !== true);
    if (read.length > 0 && isBetter && hasSharedKeys(read, reader)) best = { reader, read, keys };
  }
  return best !== undefined && best.read.length >= texts.length * 0.8 ? best : undefined;
}

function keysIn(map: MapNode): number {
  return map.entries.reduce((sum, { value }) => sum + 1 + (value.kind === 'map' ? value.entries.length : 0), 0);
}

/** Prose read as keys and values has none that others have, too: a language of lines needs more of them than one of brackets. */
function hasSharedKeys(read: readonly ReadDocument[], { syntax }: Reader): boolean {
  const counts = new Map<string, number>();
  for (const { root } of read)
    for (const key of new Set(root.entries.map((entry) => entry.key))) counts.set(key, (counts.get(key) ?? 0) + 1);
  const shared = [...counts.values()].filter((count) => count >= read.length * 0.6).length;
  const loose = ['key-value', 'header-lines', 'comment-tags'].includes(syntax);
  return shared >= (loose ? 2 : 1);
}

/** A manifest says what its theme is called, and of which version. */
function weightOf({ fields, path, seen }: LearnedDocument, size: number): number {
  const facts = new Set(fields.map(({ fact }) => fact));
  const known = ['id', 'title', 'version', 'summary', 'author', 'license', 'parent', 'hosts'].filter((fact) => facts.has(fact)).length;
  const shared = fields.filter((field) => field.seen.count >= 0.8 * field.seen.of).length;
  if (known === 0 && shared < 2) return 0;
  return known * 2 + Math.min(shared, 6) / 2 + (seen.count / size) * 4 - (path.includes('/') ? 4 : 0) - (GENERIC.test(path) ? 3 : 0);
}

/** Of a package file, what a host may look at: the rest is for the package manager, and only a name and a version does it ask for. */
function ofTheHost(fields: readonly LearnedField[]): LearnedField[] {
  return fields
    .filter(({ key }) => factNamed(key) !== undefined && key.length === 1)
    .map((field) => ({ ...field, required: field.required && /^(?:name|version)$/.test(field.key[0] ?? '') }));
}

/** Files of package managers say what a package is, whatever host it is for. */
export const GENERIC = /(?:^|\/)(?:package|composer|bower|manifest)\.json$|(?:^|\/)pyproject\.toml$|(?:^|\/)setup\.cfg$/;
