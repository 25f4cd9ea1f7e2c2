import { findSyntax } from '../documents/syntaxes.ts';
import type { MapNode } from '../documents/syntax.ts';
import { endingOf, kindOfPath } from '../text/file-kinds.ts';
import { baseOf } from '../files/file-tree.ts';
import type { SampleTheme, ThemeSet } from './theme-set.ts';

/** A syntax with its options, as a platform file names it. */
export interface Reader {
  readonly syntax: string;
  readonly options: Readonly<Record<string, unknown>>;
}

const reader = (syntax: string, options: Readonly<Record<string, unknown>> = {}): Reader => ({ syntax, options });

/** By the ending of a file, the syntaxes that it is tried with first, the strictest before the others. */
const BY_ENDING: Readonly<Record<string, readonly Reader[]>> = {
  yaml: [reader('yaml', { lenient: true })],
  yml: [reader('yaml', { lenient: true })],
  json: [reader('json'), reader('json', { lenient: true })],
  toml: [reader('toml')],
  xml: [reader('xml')],
  svg: [],
  html: [],
  php: [reader('php', { at: 'return' }), reader('header-lines')],
  mjs: [reader('javascript', { at: 'export default' })],
  cjs: [reader('javascript', { at: 'module.exports =' })],
  js: [reader('javascript', { at: 'export default' }), reader('javascript', { at: 'module.exports =' }), reader('header-lines')],
};

/** The dialect that takes most first: where others find as many keys in as many files, it is as right, and takes more of what comes. */
const INI: readonly Reader[] = [
  reader('ini', { colon: true, continued: 'indent' }),
  reader('ini'),
  reader('ini', { 'inline-comments': true }),
  reader('ini', { colon: true, continued: 'indent', repeated: true }),
  reader('ini', { 'lone-keys': true, escapes: 'none' }),
];

/** Lines of names with dots and what they are, as window systems keep them: `*.title.color: #336699`, `! a comment`. */
const RESOURCES: readonly Reader[] = [{}, { repeated: true }, { repeated: true, 'lone-keys': true }].map((more) =>
  reader('ini', { colon: true, comments: ['!', '#'], escapes: 'none', ...more }),
);

/** By what a text looks like, whatever its file is called. */
const BY_CONTENT: readonly { readonly looks: RegExp; readonly readers: readonly Reader[] }[] = [
  { looks: /^\s*\{[^]*\}\s*$/, readers: [reader('json'), reader('json', { lenient: true })] },
  { looks: /^\s*<(?:\?xml|!DOCTYPE \w+ SYSTEM|[A-Za-z][\w:-]*[\s>/])/, readers: [reader('xml')] },
  { looks: /^[^]{0,400}?(?:\/\*|<!--|\{#)[^]{0,2000}?@\w+[ \t]+\S/, readers: [reader('comment-tags')] },
  { looks: /^\s*(?:<\?php\s*)?(?:\/\*|<!--|\{#|\{\{!)/, readers: [reader('header-lines')] },
  { looks: /^[ \t]*\[[^\]\n]+\][ \t]*\r?$/m, readers: [...INI, reader('toml')] },
  { looks: /^[A-Za-z_][\w .-]*=/m, readers: INI },
  { looks: /^[A-Za-z_][\w -]*:(?:\s|$)/m, readers: [reader('yaml')] },
  // Rules between braces only look like such lines.
  { looks: /^(?![^]*[{}])(?:[^]*\n)?[ \t]*[A-Za-z_*][\w*-]*(?:\.[\w*.-]+)?[ \t]*:/, readers: RESOURCES },
  { looks: /^[A-Za-z_][\w.-]*[ \t]+\S/m, readers: [reader('key-value', { comments: ['#'] })] },
];

/** Whether a file can say what a theme is: no picture, no font, and no prose for people. */
export function canBeDocument(path: string): boolean {
  const kind = kindOfPath(path);
  if (['picture', 'font', 'media', 'archive', 'prose', 'binary'].includes(kind)) return false;
  return !/^(?:licen[cs]e|copying|readme|changelog|changes|authors|credits|news|todo|install|makefile)\b/i.test(baseOf(path));
}

/** A comment at the head whose signs say that it is more than one: these signs tell how the header begins and ends. */
function markedHeader(text: string): typeof BY_CONTENT {
  const [, open, close] = /^\s*(\/\*[^\w\s*/]{1,8})[ \t]*\r?\n[^]{0,4000}?^[ \t]*([^\w\s*/]{1,8}\*\/)/m.exec(text) ?? [];
  return open === undefined || close === undefined ? [] : [{ looks: /^/, readers: [reader('comment-header', { open, close })] }];
}

/** The readers that a text may be for, the likeliest first. */
export function readersFor(path: string, text: string): readonly Reader[] {
  const base = baseOf(path);
  const ending = base.slice(base.lastIndexOf('.') + 1).toLowerCase();
  const named = Object.hasOwn(BY_ENDING, ending) ? BY_ENDING[ending] : undefined;
  if (named !== undefined && endingOf(path).kind !== 'code' && ending !== 'js' && ending !== 'mjs' && ending !== 'cjs') return named;
  const looked = [...markedHeader(text), ...BY_CONTENT].flatMap(({ looks, readers }) => (looks.test(text) ? readers : []));
  // In a stylesheet, a script or a template only the head can be meant.
  const isCode = ['stylesheet', 'script', 'code', 'markup'].includes(kindOfPath(path));
  const isTagged = /^\s*</.test(text);
  const fitting =
    isCode || isTagged ? looked.filter(({ syntax }) => HEADS.has(syntax) || (isTagged && !isCode && syntax === 'xml')) : looked;
  return [...(named ?? []), ...fitting];
}

const HEADS: ReadonlySet<string> = new Set(['comment-header', 'comment-tags', 'header-lines']);

/** Reads a text; undefined when it is not written in the reader's syntax. */
export function readWith({ syntax, options }: Reader, text: string): MapNode | undefined {
  const { root, problems } = findSyntax(syntax)?.read(text, options) ?? { root: undefined, problems: [] };
  return problems.length > 0 || root === undefined || root.entries.length === 0 ? undefined : root;
}

/** The text of a document in a theme. */
export interface DocumentText {
  readonly theme: SampleTheme;
  readonly text: string;
}

/** A document as one theme has it. */
export interface ReadDocument {
  readonly theme: SampleTheme;
  readonly root: MapNode;
}

/** The texts of the file of a shape, in the themes that have it. */
export function textsOf(set: ThemeSet, shape: string): DocumentText[] {
  return set.themes.flatMap((theme) => {
    const path = set.shapes(theme).get(shape);
    const text = path === undefined ? undefined : set.text(theme, path);
    return text === undefined ? [] : [{ theme, text }];
  });
}

/** A document in the themes in which it can be read. */
export function readsOf(set: ThemeSet, document: Reader & { readonly path: string }): ReadDocument[] {
  return textsOf(set, document.path).flatMap(({ theme, text }) => {
    const root = readWith(document, text);
    return root === undefined ? [] : [{ theme, root }];
  });
}
