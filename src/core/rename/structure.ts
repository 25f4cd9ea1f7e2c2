import { findSyntax } from '../documents/syntaxes.ts';
import type { Syntax, ValueNode } from '../documents/syntax.ts';
import { applyEdits, mapOffset, type TextEdit } from '../text/edits.ts';
import { hasHyphens, languageNamed } from '../text/languages.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { isElementText, stretchAround } from '../text/stretch.ts';
import { findZones, zoneIndex, zoneOf, type Zone } from '../text/zones.ts';
import type { Breakage } from './breakage.ts';

/** Syntaxes by the ending of files that nobody declares. */
const BY_ENDING: readonly (readonly [ending: RegExp, syntax: string])[] = [
  [/\.(?:json|webmanifest)$/, 'json'],
  [/\.ya?ml$/, 'yaml'],
  [/\.toml$/, 'toml'],
];

/**
 * Whether a text is still made of the same tokens after some edits: the same zones one after another (code, strings, comments, tags),
 * the same tokens in the code around each edit, and, in data, the same entries, where the text could be read before.
 * @param edits sorted; they do not overlap
 * @param zones those of the text as it is
 */
export function structureProblems(
  source: SourceDocument,
  edits: readonly TextEdit[],
  zones: readonly Zone[],
  isTemplate: boolean,
): Breakage[] {
  if (edits.length === 0) return [];
  const after = applyEdits(source.text, edits);
  return [...dataProblems(source, after, edits), ...zoneProblems(source, after, edits, zones, isTemplate)].slice(0, 5);
}

function zoneProblems(
  source: SourceDocument,
  after: string,
  edits: readonly TextEdit[],
  zones: readonly Zone[],
  isTemplate: boolean,
): Breakage[] {
  const now = findZones(source.file, after, isTemplate);
  const differs = zones.findIndex(({ kind, language }, i) => now[i]?.kind !== kind || now[i]?.language !== language);
  if (differs >= 0 || now.length !== zones.length) {
    // The edit in or before the first zone that is another: what it wrote opens or closes something.
    const end = zones[differs]?.end ?? source.text.length;
    const cause = edits.findLast((edit) => edit.start <= end) ?? edits[0];
    return cause === undefined ? [] : [at(source, cause, 'what is written here makes other tokens of what follows')];
  }
  return edits.flatMap((edit) => {
    const zone = zoneOf(zones, edit.start);
    const own = now[zoneIndex(zones, edit.start)];
    if (zone?.language === undefined || own === undefined) return [];
    const text = source.text.slice(edit.start, edit.end);
    if (zone.kind === 'markup')
      return signsOf(text) === signsOf(edit.text) ? [] : [at(source, edit, `“${edit.text}” puts signs of tags here`)];
    if (zone.kind !== 'code' || edit.start === edit.end || isElementText(source.text, edit)) return [];
    const before = tokensAround(source.text, edit.start, edit.end, zone);
    const start = mapOffset(edit.start, edits);
    const written = tokensAround(after, start, start + edit.text.length, own);
    // One name in the place of what a search and replace had parted.
    return before === written || written === 'w' ? [] : [at(source, edit, `“${edit.text}” is no longer one token of the code here`)];
  });
}

function at(source: SourceDocument, { start }: TextEdit, text: string): Breakage {
  return { file: source.file, ...source.positionAt(start), text };
}

function signsOf(text: string): string {
  return text.replace(/[^<>"=]/g, '');
}

/** The kinds of the tokens that an edit lies in or touches, within its zone. */
function tokensAround(text: string, start: number, end: number, { language, start: first, end: last }: Zone): string {
  const isHyphenated = language === undefined || hasHyphens(language);
  const part = isHyphenated ? /[\p{L}\p{N}\p{M}_$\\-]/u : /[\p{L}\p{N}\p{M}_$]/u;
  const { text: stretch, start: from } = stretchAround(text, { start, end }, part, 200);
  const own = stretch.slice(Math.max(0, first - from), last - from);
  const keywords = language === undefined ? new Set<string>() : languageNamed(language).keywords;
  const word = isHyphenated ? /(?:[\p{L}\p{N}\p{M}_$-]|\\.)+/gu : /[\p{L}\p{N}\p{M}_$]+/gu;
  return own.replace(word, (token) => (keywords.has(token) ? 'k' : /^\d/.test(token) ? 'n' : 'w')).replace(/\s+/g, ' ');
}

/** What could be read before can be read after, and holds as many entries. */
function dataProblems(source: SourceDocument, after: string, edits: readonly TextEdit[]): Breakage[] {
  const syntax = findSyntax(BY_ENDING.find(([ending]) => ending.test(source.file))?.[1] ?? '');
  const before = syntax === undefined ? undefined : shapeOf(syntax, source.text);
  if (syntax === undefined || before === undefined || shapeOf(syntax, after) === before) return [];
  const [first] = edits;
  return first === undefined ? [] : [at(source, first, `the file cannot be read as ${syntax.name} afterwards, or holds other entries`)];
}

/** The kinds of all values of a document, by their places; undefined where it cannot be read. */
function shapeOf(syntax: Syntax, text: string): string | undefined {
  const { root, problems } = syntax.read(text, { lenient: true });
  return root === undefined || problems.length > 0 ? undefined : nodeShape(root);
}

function nodeShape(node: ValueNode): string {
  if (node.kind === 'map')
    return `{${node.entries.map(({ value }) => nodeShape(value)).join(',')}}${new Set(node.entries.map(({ key }) => key)).size}`;
  if (node.kind === 'list') return `[${node.items.map(nodeShape).join(',')}]`;
  return node.kind === 'scalar' ? typeof node.value : 'unknown';
}
