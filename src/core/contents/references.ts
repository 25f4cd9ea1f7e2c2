import { QuoteType, Tokenizer } from 'htmlparser2';
import parseValue, { type Node as ValuePart } from 'postcss-value-parser';
import type { TextRange } from '../text/edits.ts';
import type { SourceDocument } from '../text/source-document.ts';
import type { Theme } from '../theme/theme.ts';
import type { ThemeNames } from '../names/full-name.ts';
import type { PlatformContract } from '../platform/schema.ts';
import { folderOf, resolveInTree } from '../files/file-tree.ts';
import { matchesAny } from '../files/glob.ts';
import { shapePattern } from '../names/shape.ts';
import { liesIn } from '../templates/template.ts';
import { endOfImport, endOfSet, endOfString, endOfUrl, isQuote } from '../text/sheet-scan.ts';
import { servedAt } from './serving.ts';
import type { Chain } from '../theme/chain.ts';
import { isTemplate, templateAt } from './templates.ts';

type ReferenceContract = PlatformContract['references'][number];

/** A mention of another file by its address. Offsets are 0-based, of the address without quotes. */
export interface Reference extends TextRange {
  readonly target: string;
  readonly by: 'url()' | '@import' | 'attribute';
}

/** An address, and the file of a theme that it stands in. */
export interface PlacedReference {
  readonly reference: Reference;
  readonly path: string;
  readonly source: SourceDocument;
  /** Whether the file is a stylesheet: there addresses start from its own folder, in a template from the page's. */
  readonly isSheet: boolean;
}

/** The addresses in a theme's stylesheets and templates. */
export function* referencesOf(theme: Theme): Generator<PlacedReference> {
  for (const { path, kind } of theme.tree.entries) {
    const source = kind === 'file' && holdsReferences(theme, path) ? theme.source(path) : undefined;
    if (source !== undefined) yield* referencesIn(theme, source);
  }
}

/** The addresses in one text of a theme; none when it is neither a stylesheet nor a template. */
export function referencesIn(theme: Theme, source: SourceDocument): readonly PlacedReference[] {
  const known = placed.get(source);
  if (known !== undefined) return known;
  const path = source.file;
  const isSheet = path.endsWith('.css');
  const references = !holdsReferences(theme, path) ? [] : isSheet ? findSheetReferences(source.text) : findMarkupReferences(source.text);
  const names = isSheet ? namesIn(theme, path) : [];
  const found = Array.from(references, (reference) => ({ reference, path, source, isSheet })).filter(
    ({ reference: { by, start } }) => by !== '@import' || !names.some((name) => name.start < start && start < name.end),
  );
  placed.set(source, found);
  return found;
}

/** Where a stylesheet names another theme, and not a file, by an import. */
function namesIn({ facts }: Theme, path: string): readonly TextRange[] {
  return facts.flatMap(({ field, document, node }) => (document.path === path && ['parent', 'theme'].includes(field.type) ? [node] : []));
}

/** Several rules ask, one after the other. */
const placed = new WeakMap<SourceDocument, readonly PlacedReference[]>();

function holdsReferences(theme: Theme, path: string): boolean {
  return path.endsWith('.css') || isTemplate(theme, path);
}

/** A file of the theme that some text names by a shape, and the folder that its path starts from. */
export interface Mention extends Omit<PlacedReference, 'isSheet'> {
  readonly folder: string;
}

/**
 * What texts of a chain's first theme name where the platform says how they do (`references`), those in comments of templates left out.
 * Of several files that can be meant it is the first that is there.
 */
export function* mentionsOf(chain: Chain): Generator<Mention> {
  const [theme] = chain.themes;
  if (theme === undefined) return;
  for (const { files, shape, file, under = '', relative } of theme.platform.contract.references) {
    for (const { path, kind } of theme.tree.entries) {
      const source = kind === 'file' && matchesAny(path, files) ? theme.source(path) : undefined;
      if (source === undefined) continue;
      const template = templateAt(theme, path)?.template;
      for (const match of matchesOf(shape, source.text, theme.names)) {
        if (template !== undefined && liesIn(template.comments, match.index)) continue;
        const said = saidIn(match);
        // An address of another host names no file here.
        if (said.startsWith('//')) continue;
        const start = match.index + match[0].lastIndexOf(said);
        const folder = relative ? folderOf(path) : under;
        const targets = targetsOf({ file }, match);
        const isThere = (target: string): boolean => servedAt(chain, resolveInTree(folder, target) ?? target) !== undefined;
        const target = targets.find(isThere) ?? targets.at(-1) ?? said;
        yield {
          reference: { target, by: 'attribute', start, end: start + said.length },
          path,
          source,
          folder,
        };
      }
    }
  }
}

/** Where a text names a file in a way of its own: a function is called as itself, and not as a method of something or a part of another word. */
export function matchesOf(shape: string, text: string, names: Partial<ThemeNames> = {}): RegExpExecArray[] {
  const before = /^\w+\(/.test(shape) ? /[\w.]/ : /^\w/.test(shape) ? /\w/ : undefined;
  const all = [...text.matchAll(shapePattern(shape, names))];
  return before === undefined ? all : all.filter(({ index }) => !before.test(text.charAt(index - 1)));
}

function saidIn(match: RegExpExecArray): string {
  return match.groups?.['path'] ?? match.groups?.['name'] ?? match[0];
}

/** The files that can be meant where a text names one, the likeliest last. */
export function targetsOf({ file }: Pick<ReferenceContract, 'file'>, match: RegExpExecArray): string[] {
  const said = saidIn(match);
  return file === undefined ? [said] : file.map((each) => each.replace(/\{(?:path|name)\}/, () => said.replace(/^\/+/, '')));
}

/** The text that can hold addresses, and the text to pass over: comments and strings. */
const LEAD = /\/\*|["']|@import\b|(?<![\w-])(?:url|(?:-[a-z]+-)?image-set)\(/gi;

/**
 * Addresses in a stylesheet: `url()`, `@import`, `image-set()`. The sheet is not parsed, which would take most of the
 * time of a check; only the few values that hold an address are.
 */
export function findSheetReferences(css: string): Reference[] {
  if (!/url\(|@import|image-set\(/i.test(css)) return [];
  const found: Reference[] = [];
  const leads = new RegExp(LEAD);
  let lastClose = css.lastIndexOf(')');
  while (css.charAt(lastClose - 1) === '\\') lastClose = css.lastIndexOf(')', lastClose - 1);
  for (let lead = leads.exec(css); lead !== null; lead = leads.exec(css)) {
    const [word] = lead;
    const after = lead.index + word.length;
    if (word === '/*') {
      const end = css.indexOf('*/', after);
      if (end < 0) break;
      leads.lastIndex = end + 2;
    } else if (isQuote(word)) leads.lastIndex = endOfString(css, lead.index).end;
    else {
      const isImport = word.startsWith('@');
      // What nothing closes is not looked through to the end, once for every one of them.
      if (!isImport && lead.index > lastClose) continue;
      const end = isImport ? endOfImport(css, after) : /^url/i.test(word) ? endOfUrl(css, after) : endOfSet(css, after);
      if (end === undefined) continue;
      const start = isImport ? after + (/^\s*/.exec(css.slice(after, end))?.[0].length ?? 0) : lead.index;
      found.push(...addressesIn(css.slice(start, end), start, isImport));
      leads.lastIndex = end;
    }
  }
  return found;
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

/** Addresses in markup: `src`, `href` of what is loaded, `srcset`, `poster`, and those of styles in it. */
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
      onclosetag: () => (element = ''),
      oncomment: nothing,
      ondeclaration: nothing,
      onend: nothing,
      onopentagend: nothing,
      onprocessinginstruction: nothing,
      onselfclosingtag: nothing,
      ontext: (start, end) => {
        if (element !== 'style') return;
        for (const each of findSheetReferences(html.slice(start, end)))
          found.push({ ...each, start: each.start + start, end: each.end + start });
      },
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
