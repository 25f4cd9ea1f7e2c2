import { QuoteType, Tokenizer } from 'htmlparser2';
import { CssSyntaxError, parse as parseSheet, type AtRule, type Declaration, type Root } from 'postcss';
import parseValue, { type Node as ValuePart } from 'postcss-value-parser';
import type { TextRange } from '../text/edits.ts';

/** A mention of another file by its address. Offsets are 0-based, of the address without quotes. */
export interface Reference extends TextRange {
  readonly target: string;
  readonly by: 'url()' | '@import' | 'attribute';
}

/** Addresses in a stylesheet: `url()`, `@import`, `image-set()`. None when it cannot be parsed. */
export function findSheetReferences(css: string): Reference[] {
  // Parsing is slow, and most sheets refer to nothing.
  if (!/url\(|@import|image-set\(/i.test(css)) return [];
  let root: Root;
  try {
    root = parseSheet(css);
  } catch (error) {
    if (error instanceof CssSyntaxError) return [];
    throw error;
  }
  const found: Reference[] = [];
  root.walk((node) => {
    const start = node.source?.start?.offset;
    if (start === undefined) return;
    if (node.type === 'decl')
      found.push(...addressesIn(valueOf(node), start + node.prop.length + (node.raws.between ?? ': ').length, false));
    else if (node.type === 'atrule') {
      const at = start + 1 + node.name.length + (node.raws.afterName ?? ' ').length;
      found.push(...addressesIn(paramsOf(node), at, node.name.toLowerCase() === 'import'));
    }
  });
  return found;
}

function valueOf(node: Declaration): string {
  return node.raws.value?.raw ?? node.value;
}

function paramsOf(node: AtRule): string {
  return node.raws.params?.raw ?? node.params;
}

function addressesIn(value: string, base: number, isImport: boolean): Reference[] {
  if (!isImport && !/url\(|image-set\(/i.test(value)) return [];
  const found: Reference[] = [];
  const add = (part: ValuePart, by: Reference['by']): void => {
    if (part.type !== 'string' && part.type !== 'word') return;
    const start = base + part.sourceIndex + (part.type === 'string' ? 1 : 0);
    found.push({ target: part.value, by, start, end: start + part.value.length });
  };
  const parsed = parseValue(value);
  const first = parsed.nodes[0];
  if (isImport && first?.type === 'string') add(first, '@import');
  parsed.walk((part) => {
    if (part.type !== 'function') return;
    const name = part.value.toLowerCase();
    const inner = part.nodes[0];
    if (name === 'url' && inner !== undefined) add(inner, isImport ? '@import' : 'url()');
    else if (name.endsWith('image-set')) part.nodes.filter((node) => node.type === 'string').forEach((node) => add(node, 'url()'));
  });
  return found;
}

/** Elements whose `href` is a page to go to, not a file to load. */
const LINKING_ELEMENTS: ReadonlySet<string> = new Set(['a', 'area', 'base', 'form']);
const ADDRESS_ATTRIBUTES: ReadonlySet<string> = new Set(['src', 'href', 'srcset', 'poster', 'data', 'xlink:href']);

/** Addresses in markup: `src`, `href` of what is loaded, `srcset`, `poster`, and `url()` in inline styles. */
export function findMarkupReferences(html: string): Reference[] {
  const found: Reference[] = [];
  let element = '';
  let attribute = '';
  let value: { start: number; end: number } | undefined;
  const nothing = (): void => {};
  const tokenizer = new Tokenizer(
    { xmlMode: false, decodeEntities: false },
    {
      onopentagname: (start, end) => (element = html.slice(start, end).toLowerCase()),
      onattribname: (start, end) => {
        attribute = html.slice(start, end).toLowerCase();
        value = undefined;
      },
      onattribdata: (start, end) => (value = { start: value?.start ?? start, end }),
      onattribend: (quote) => {
        if (value !== undefined && quote !== QuoteType.NoValue) found.push(...attributeReferences(html, element, attribute, value));
      },
      onattribentity: nothing,
      oncdata: nothing,
      onclosetag: nothing,
      oncomment: nothing,
      ondeclaration: nothing,
      onend: nothing,
      onopentagend: nothing,
      onprocessinginstruction: nothing,
      onselfclosingtag: nothing,
      ontext: nothing,
      ontextentity: nothing,
    },
  );
  tokenizer.write(html);
  tokenizer.end();
  return found;
}

function attributeReferences(html: string, element: string, attribute: string, range: TextRange): Reference[] {
  const value = html.slice(range.start, range.end);
  if (attribute === 'style') return addressesIn(value, range.start, false);
  if (!ADDRESS_ATTRIBUTES.has(attribute) || (attribute === 'href' && LINKING_ELEMENTS.has(element))) return [];
  if (attribute !== 'srcset') {
    const trimmed = value.trim();
    const start = range.start + value.indexOf(trimmed);
    return [{ target: trimmed, by: 'attribute', start, end: start + trimmed.length }];
  }
  return [...value.matchAll(/(?:^|,)\s*([^\s,]+)/g)].map((match) => {
    const target = match[1] ?? '';
    const start = range.start + match.index + match[0].length - target.length;
    return { target, by: 'attribute', start, end: start + target.length };
  });
}
