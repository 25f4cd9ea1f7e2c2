import { findSyntax } from '../documents/syntaxes.ts';
import type { Syntax, ValueNode } from '../documents/syntax.ts';
import { applyEdits, editsWithin, type TextEdit } from '../text/edits.ts';
import { hasHyphens, languageNamed, type LanguageName } from '../text/languages.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { isElementText, stretchAround } from '../text/stretch.ts';
import { findZones, zoneOf } from '../text/zones.ts';
import type { Breakage } from './breakage.ts';
import type { FileView } from './mention.ts';

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
 */
export function structureProblems(file: FileView, edits: readonly TextEdit[]): Breakage[] {
  if (edits.length === 0) return [];
  const { source } = file;
  return [...dataProblems(source, edits), ...zoneProblems(file, edits), ...tokenProblems(file, edits)].slice(0, 5);
}

/** Words in the place of words, with nothing but blanks and joints in them, open and close nothing. */
const PLAIN = /^[\p{L}\p{N}\p{M}_ -]*$/u;

function zoneProblems({ source, zonesAsWritten: zones, isTemplate }: FileView, edits: readonly TextEdit[]): Breakage[] {
  const { text, file } = source;
  if (edits.every((edit) => PLAIN.test(edit.text) && PLAIN.test(text.slice(edit.start, edit.end)))) return [];
  const now = findZones(file, applyEdits(text, edits), isTemplate);
  const differs = zones.findIndex(({ kind, language }, i) => now[i]?.kind !== kind || now[i]?.language !== language);
  if (differs < 0 && now.length === zones.length) return [];
  // The edit in or before the first zone that is another: what it wrote opens or closes something.
  const end = zones[differs]?.end ?? text.length;
  const cause = edits.findLast((edit) => edit.start <= end) ?? edits[0];
  return cause === undefined ? [] : [at(source, cause, 'what is written here makes other tokens of what follows')];
}

function tokenProblems({ source, zonesAsWritten: zones }: FileView, edits: readonly TextEdit[]): Breakage[] {
  const { text } = source;
  return edits.flatMap((edit) => {
    const zone = zoneOf(zones, edit.start);
    if (zone?.language === undefined || edit.start === edit.end) return [];
    if (zone.kind === 'markup')
      return signsOf(text.slice(edit.start, edit.end)) === signsOf(edit.text)
        ? []
        : [at(source, edit, `“${edit.text}” puts signs of tags here`)];
    if (zone.kind !== 'code' || isElementText(text, edit)) return [];
    const isHyphenated = hasHyphens(zone.language);
    const { text: stretch, start } = stretchAround(text, edit, isHyphenated ? /[\p{L}\p{N}\p{M}_$\\-]/u : /[\p{L}\p{N}\p{M}_$]/u, 200);
    const inside = editsWithin(edits, start, start + stretch.length).map((each) => ({
      ...each,
      start: each.start - start,
      end: each.end - start,
    }));
    const [before, written] = [stretch, applyEdits(stretch, inside)].map((tokens) => kindsOf(tokens, zone.language, isHyphenated));
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

/** `w` a word, `k` a keyword, `n` a number; other signs are themselves. */
function kindsOf(tokens: string, language: LanguageName | undefined, isHyphenated: boolean): string {
  const keywords = language === undefined ? undefined : languageNamed(language).keywords;
  const word = isHyphenated ? /(?:[\p{L}\p{N}\p{M}_$-]|\\.)+/gu : /[\p{L}\p{N}\p{M}_$]+/gu;
  return tokens.replace(word, (token) => (keywords?.has(token) === true ? 'k' : /^\$?\d/.test(token) ? 'n' : 'w')).replace(/\s+/g, ' ');
}

/** What could be read before can be read after, and holds as many entries. */
function dataProblems(source: SourceDocument, edits: readonly TextEdit[]): Breakage[] {
  const syntax = findSyntax(BY_ENDING.find(([ending]) => ending.test(source.file))?.[1] ?? '');
  const before = syntax === undefined ? undefined : shapeOf(syntax, source.text);
  if (syntax === undefined || before === undefined || shapeOf(syntax, applyEdits(source.text, edits)) === before) return [];
  const [first] = edits;
  return first === undefined ? [] : [at(source, first, `the file cannot be read as ${syntax.name} afterward, or holds other entries`)];
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
