import { parseXml, XmlCdata, XmlElement, XmlError, XmlText } from '@rgrove/parse-xml';
import type { TextEdit } from '../text/edits.ts';
import { beginEmpty, lineEndOf } from './lines.ts';
import { findAnchor } from './structured.ts';
import {
  findEntry,
  type MapEntry,
  type MapNode,
  type Reading,
  type Scalar,
  type Syntax,
  type ValueNode,
  type WritableValue,
} from './syntax.ts';

/**
 * XML 1.0. The root's children are the document's entries; an attribute is the entry `@name` of its element, the text of an
 * element with attributes its entry `#text`, and repeated elements are a list. External entities are refused.
 */
export const xmlSyntax: Syntax = {
  name: 'xml',
  isMarkup: true,
  problemOfPath(path) {
    const [last = '', ...owners] = path.toReversed();
    if (owners.some((key) => /^[@#]/.test(key))) return 'only the last part of the path can be an attribute (@name) or a text (#text)';
    const wrong = [last.replace(/^@/, ''), ...owners].find((key) => key !== '#text' && !/^[\p{L}_][\p{L}\p{N}_.:-]*$/u.test(key));
    return wrong === undefined ? undefined : `“${wrong}” cannot be the name of an element or attribute`;
  },
  begin: (text) => beginEmpty(text, '<?xml version="1.0" encoding="UTF-8"?>\n<theme>\n</theme>\n'),
  read: readXml,
  set(text, path, value, context) {
    const root = readXml(text).root;
    const entry = findEntry(root, path);
    const written = writeText(value, path.at(-1)?.startsWith('@') === true);
    if (entry !== undefined) return replaceValue(text, entry, written);
    return root === undefined ? [] : addNode(text, root, path, written, context.order);
  },
  remove(text, path) {
    const entry = findEntry(readXml(text).root, path);
    if (entry === undefined) return [];
    return [path.at(-1)?.startsWith('@') === true ? removeAttribute(text, entry) : removeElement(text, entry)];
  },
  renameKey(text, path, key) {
    const entry = findEntry(readXml(text).root, path);
    if (entry === undefined) return [];
    const name = key.replace(/^@/, '');
    const edits: TextEdit[] = [{ start: entry.keyStart, end: entry.keyEnd, text: name }];
    const closing = path.at(-1)?.startsWith('@') === true ? -1 : closingTag(text, entry);
    if (closing >= 0) edits.push({ start: closing, end: closing + (entry.keyEnd - entry.keyStart), text: name });
    return edits;
  },
};

function writeText(value: WritableValue, isAttribute: boolean): string {
  const plain = typeof value === 'object' ? Object.values(value).join(', ') : String(value);
  const escaped = plain.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('\r', '&#13;');
  return isAttribute
    ? escaped.replaceAll('"', '&quot;').replaceAll("'", '&apos;').replaceAll('\n', '&#10;').replaceAll('\t', '&#9;')
    : escaped;
}

function readXml(text: string): Reading {
  let root: XmlElement | null;
  try {
    root = parseXml(text, { includeOffsets: true }).root;
  } catch (error) {
    if (error instanceof RangeError)
      return { root: undefined, problems: [{ message: 'it is nested too deeply, or too long', start: 0, end: 1 }] };
    if (!(error instanceof XmlError)) throw error;
    const start = Math.min(error.pos, text.length);
    const message = error.message.split(/ \(line|\n/)[0] ?? '';
    return {
      root: undefined,
      problems: [{ message: message.charAt(0).toLowerCase() + message.slice(1), start, end: Math.min(start + 1, text.length) }],
    };
  }
  return { root: root === null ? undefined : mapOf(root, text), problems: [] };
}

/** Where an element's content begins and ends; of an empty-element tag, the place before its `/>`. */
function innerRange(element: XmlElement, text: string): { start: number; end: number; isSelfClosing: boolean } {
  const open = endOfStartTag(text, element.start);
  if (text.charAt(open - 2) === '/') return { start: open, end: open, isSelfClosing: true };
  return { start: open, end: text.lastIndexOf('</', element.end - 1), isSelfClosing: false };
}

/** The offset after the `>` of a start tag; quotes may hold one. */
function endOfStartTag(text: string, start: number): number {
  const tag = /<(?:[^"'>]|"[^"]*"|'[^']*')*>/y;
  tag.lastIndex = start;
  return start + (tag.exec(text)?.[0].length ?? 0);
}

function mapOf(element: XmlElement, text: string): MapNode {
  const entries: MapEntry[] = attributesOf(element, text);
  for (const child of element.children) {
    if (!(child instanceof XmlElement)) continue;
    const value = valueOf(child, text);
    const keyStart = child.start + 1;
    const twin = entries.find((entry) => entry.key === child.name);
    if (twin === undefined) entries.push({ key: child.name, keyStart, keyEnd: keyStart + child.name.length, value });
    else {
      const items = twin.value.kind === 'list' ? twin.value.items : [twin.value];
      entries[entries.indexOf(twin)] = {
        ...twin,
        value: { kind: 'list', items: [...items, value], start: twin.value.start, end: value.end },
      };
    }
  }
  return { kind: 'map', entries, start: element.start, end: element.end };
}

function valueOf(element: XmlElement, text: string): ValueNode {
  const hasParts = Object.keys(element.attributes).length > 0 || element.children.some((child) => child instanceof XmlElement);
  const { start, end } = innerRange(element, text);
  const scalar: ValueNode = { kind: 'scalar', value: contentOf(element), isQuoted: true, start, end };
  if (!hasParts) return scalar;
  const map = mapOf(element, text);
  const hasText = element.children.some((child) => (child instanceof XmlText || child instanceof XmlCdata) && child.text.trim() !== '');
  return hasText ? { ...map, entries: [...map.entries, { key: '#text', keyStart: start, keyEnd: start, value: scalar }] } : map;
}

function contentOf(element: XmlElement): Scalar {
  return element.children.map((child) => (child instanceof XmlText || child instanceof XmlCdata ? child.text : '')).join('');
}

/** The parser gives attributes without their offsets: they are found in the start tag, in its own grammar. */
function attributesOf(element: XmlElement, text: string): MapEntry[] {
  // Sticky, from one attribute to the next: the time stays linear whatever the tag holds.
  const attribute = /\s+([^\s"'<>/=]+)\s*=\s*("[^"]*"|'[^']*')/y;
  attribute.lastIndex = element.start + 1 + element.name.length;
  const entries: MapEntry[] = [];
  for (let match = attribute.exec(text); match !== null; match = attribute.exec(text)) {
    const [whole, name = '', quoted = ''] = match;
    const start = match.index + whole.length - quoted.length + 1;
    const keyStart = match.index + whole.indexOf(name);
    const value: ValueNode = {
      kind: 'scalar',
      value: element.attributes[name] ?? null,
      isQuoted: true,
      start,
      end: start + quoted.length - 2,
    };
    entries.push({ key: `@${name}`, keyStart, keyEnd: keyStart + name.length, value });
  }
  return entries;
}

function replaceValue(text: string, entry: MapEntry, written: string): TextEdit[] {
  const ownText = entry.value.kind === 'map' ? entry.value.entries.find((each) => each.key === '#text') : undefined;
  const { start, end } = ownText?.value ?? entry.value;
  if (entry.value.kind === 'list') return [];
  if (text.slice(start, end) === written) return [];
  if (text.slice(start - 2, start) === '/>') {
    // <title/> becomes <title>…</title>
    const name = text.slice(entry.keyStart, entry.keyEnd);
    const slash = start - 2 - (/\s*$/.exec(text.slice(0, start - 2))?.[0].length ?? 0);
    return [{ start: slash, end: start, text: `>${written}</${name}>` }];
  }
  return [{ start, end, text: written }];
}

/** Adds a node at a path: into the deepest element on the way that is there, with those that are missing around it. */
function addNode(text: string, root: MapNode, path: readonly string[], written: string, order: readonly (readonly string[])[]): TextEdit[] {
  let owner: { map: MapNode | undefined; start: number } = { map: root, start: root.start };
  let depth = 0;
  for (; depth < path.length - 1; depth++) {
    const entry = owner.map?.entries.find(({ key }) => key === path[depth]);
    if (entry === undefined) break;
    // Of several elements of a name nobody can say which is meant.
    if (entry.value.kind === 'list') return [];
    owner = { map: entry.value.kind === 'map' ? entry.value : undefined, start: entry.keyStart - 1 };
  }
  const last = path.at(-1) ?? '';
  if (last.startsWith('@') && depth === path.length - 1) return addAttribute(text, owner.start, last, written);
  const elements = path.slice(depth, last.startsWith('@') ? -1 : undefined);
  const innermost = elements.at(-1) ?? '';
  const inner = last.startsWith('@') ? `<${innermost} ${last.slice(1)}="${written}"/>` : elementText(innermost, written);
  const element = elements.slice(0, -1).reduceRight((content, name) => elementText(name, content), inner);
  return addElement(text, owner, element, (map) => findAnchor(map, path.slice(0, depth), path, order));
}

/** Adds an element to another one, behind the anchor, laid out as those beside it. */
function addElement(
  text: string,
  owner: { readonly map: MapNode | undefined; readonly start: number },
  element: string,
  findAnchorIn: (map: MapNode) => MapEntry | undefined,
): TextEdit[] {
  const end = lineEndOf(text);
  const open = endOfStartTag(text, owner.start);
  const outer = /(?:^|\n)([ \t]*)$/.exec(text.slice(0, owner.start))?.[1];
  if (text.charAt(open - 2) === '/') {
    const name = /^<([^\s/>]+)/.exec(text.slice(owner.start))?.[1] ?? '';
    const content = outer === undefined ? element : `${end}${outer}  ${element}${end}${outer}`;
    return [{ start: open - 2, end: open, text: `>${content}</${name}>` }];
  }
  const isElement = (entry: MapEntry): boolean => !entry.key.startsWith('@') && !entry.key.startsWith('#');
  const entries = owner.map?.entries.filter(isElement) ?? [];
  const anchor = owner.map === undefined ? undefined : findAnchorIn({ ...owner.map, entries });
  const sample = anchor ?? entries[0];
  const indent = sample === undefined ? `${outer ?? ''}  ` : (/[ \t]*$/.exec(text.slice(0, sample.keyStart - 1))?.[0] ?? '');
  const at = anchor === undefined ? open : endOfElementLine(text, elementEnd(text, anchor));
  const isOneLine = sample === undefined ? outer === undefined : !text.slice(open, sample.keyStart - 1).includes('\n');
  const tail = sample === undefined && !text.slice(at).startsWith(end) ? `${end}${outer ?? ''}` : '';
  return [{ start: at, end: at, text: isOneLine ? element : `${end}${indent}${element}${tail}` }];
}

/** A comment behind an element, on its line, belongs to it. */
function endOfElementLine(text: string, end: number): number {
  return end + (/^[ \t]*<!--(?:(?!-->)[^\r\n])*-->[ \t]*(?=\r?\n)/.exec(text.slice(end, end + 1000))?.[0].length ?? 0);
}

function elementText(name: string, written: string): string {
  return `<${name}>${written}</${name}>`;
}

function addAttribute(text: string, elementStart: number, key: string, written: string): TextEdit[] {
  const open = endOfStartTag(text, elementStart);
  const at = text.charAt(open - 2) === '/' ? open - 2 : open - 1;
  const blanks = /\s*$/.exec(text.slice(elementStart, at))?.[0].length ?? 0;
  return [{ start: at - blanks, end: at - blanks, text: ` ${key.slice(1)}="${written}"` }];
}

/** The offset after an element's end tag, or after its empty-element tag. */
function elementEnd(text: string, entry: MapEntry): number {
  if (entry.value.kind === 'map') return entry.value.end;
  const { end } = entry.value.kind === 'list' ? (entry.value.items.at(-1) ?? entry.value) : entry.value;
  if (text.slice(end - 2, end) === '/>') return end;
  return entry.value.kind === 'list' && entry.value.items.at(-1)?.kind === 'map' ? end : text.indexOf('>', end) + 1;
}

function closingTag(text: string, entry: MapEntry): number {
  const end = elementEnd(text, entry);
  return text.charAt(end - 2) === '/' ? -1 : text.lastIndexOf('</', end - 1) + 2;
}

function removeElement(text: string, entry: MapEntry): TextEdit {
  const start = entry.keyStart - 1;
  const end = elementEnd(text, entry);
  const indent = /(?:^|\n)([ \t]*)$/.exec(text.slice(0, start))?.[1];
  const rest = /^[ \t]*\r?\n/.exec(text.slice(end))?.[0];
  return indent !== undefined && rest !== undefined
    ? { start: start - indent.length, end: end + rest.length, text: '' }
    : { start, end, text: '' };
}

function removeAttribute(text: string, entry: MapEntry): TextEdit {
  const blanks = /\s*$/.exec(text.slice(0, entry.keyStart))?.[0].length ?? 0;
  return { start: entry.keyStart - blanks, end: entry.value.end + 1, text: '' };
}
