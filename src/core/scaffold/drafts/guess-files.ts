import { imageSize } from 'image-size';
import { baseOf, folderOf, resolveInTree, type FileTree } from '../../files/file-tree.ts';
import { readText } from '../../files/read-text.ts';
import { kindOfPath } from '../../text/file-kinds.ts';
import { shapePattern } from '../../names/shape.ts';
import type { SampleTheme } from './guess-documents.ts';

/** How the templates of themes seem to look, and from what that was guessed. */
export interface GuessedTemplates {
  readonly files: readonly string[];
  readonly roles: Readonly<Record<string, string>>;
  /** Mustache, or the shapes of tags that were found. */
  readonly language:
    | 'mustache'
    | { readonly comment: string[]; readonly include: string[]; readonly extend: string[]; readonly print: string[] }
    | undefined;
  /** Where an included piece is, when that can be told: parts/{path}.html */
  readonly partials: string | undefined;
  readonly from: readonly string[];
}

export interface GuessedImage {
  readonly role: string;
  readonly path: string;
  readonly format: 'png' | 'jpg' | 'gif' | 'webp' | 'svg' | 'ico';
  readonly width: number | undefined;
  readonly height: number | undefined;
}

/** Whether a file is markup: by its ending, or by what it holds where the ending is unknown or code’s. */
function isMarkup(path: string, tree: FileTree): boolean {
  const kind = kindOfPath(path);
  if (kind === 'markup') return true;
  const text = kind === 'other' || kind === 'code' ? (readText(tree, path)?.text ?? '') : '';
  return kind === 'code' ? /^\s*<(?!\?)/.test(text) : /<\/?[a-z][^>]*>|\{[%{][^]*?[%}]\}/i.test(text);
}

/** How templates take others in, in the ways that are common to many languages. */
const INCLUDES = [
  '{{> {path} }}',
  '{% include "{path}" %}',
  '{% include "{path}"',
  '{include file="{path}"',
  '{include "{path}"',
  '<include file="{path}"',
  '@include("{path}")',
  '{{ include("{path}") }}',
  '<%- include("{path}") %>',
];
const EXTENDS = ['{% extends "{path}" %}', '{extends file="{path}"}', '{extends "{path}"}', '@extends("{path}")', '{{< {path} }}'];
const PRINTS: readonly (readonly [shape: string, seen: RegExp])[] = [
  ['{{ {text} }}', /\{\{[^{}#/>!^&%]+\}\}/],
  ['{$ {text} }', /\{\$[^{}]+\}/],
  ['<%= {text} %>', /<%=[^%]+%>/],
];
const COMMENTS: readonly (readonly [shape: string, seen: RegExp])[] = [
  ['{# {text} #}', /\{#[^]*?#\}/],
  ['{{! {text} }}', /\{\{![^]*?\}\}/],
  ['{* {text} *}', /\{\*[^]*?\*\}/],
];

const COVERS = /^(?:cover|screenshot|preview|thumbnail|thumb)\.(png|jpe?g|gif|webp|svg)$/i;

export function guessTemplates(samples: readonly SampleTheme[]): GuessedTemplates | undefined {
  const [first] = samples;
  if (first === undefined) return undefined;
  const paths = first.tree.entries.flatMap(({ path, kind }) => (kind === 'file' && isMarkup(path, first.tree) ? [path] : []));
  if (paths.length === 0) return undefined;
  const texts = paths.map((path) => ({ path, text: readText(first.tree, path)?.text ?? '' }));
  const includes = INCLUDES.flatMap((shape) => resolvedBy(shape, texts, first.tree));
  const extend = EXTENDS.filter((shape) => texts.some(({ text }) => shapePattern(shape).test(text)));
  const used = [...new Set(includes.map(({ shape }) => shape))].filter(
    (shape, _i, all) => !all.some((other) => other !== shape && other.startsWith(shape)),
  );
  const isMustache = texts.some(({ text }) => /\{\{[#^>]/.test(text)) && !texts.some(({ text }) => /\{%/.test(text));
  const seen = (table: typeof PRINTS): string[] =>
    table.flatMap(([shape, pattern]) => (texts.some(({ text }) => pattern.test(text)) ? [shape] : []));
  const included = new Set(includes.map(({ file }) => file));
  const pages = paths.filter((path) => !included.has(path) && !/(?:^|\/)[_.]|partial|include|block|piece|part|fragment|macro/i.test(path));
  return {
    files: globsOf(paths),
    roles: Object.fromEntries(pages.slice(0, 20).map((path) => [roleName(path), path])),
    language: isMustache ? 'mustache' : { comment: seen(COMMENTS), include: used, extend, print: seen(PRINTS) },
    partials: partialShape(includes),
    from: includes.slice(0, 3).map(({ where, file }) => `${where} includes ${file}`),
  };
}

interface ResolvedInclude {
  readonly shape: string;
  readonly where: string;
  readonly name: string;
  readonly file: string;
}

/** The tags of a shape whose names lead to files: only these say how the language includes. */
function resolvedBy(shape: string, texts: readonly { path: string; text: string }[], tree: FileTree): ResolvedInclude[] {
  return texts.flatMap(({ path, text }) =>
    [...text.matchAll(shapePattern(shape))].flatMap((match): ResolvedInclude[] => {
      const name = match.groups?.['path'] ?? '';
      const file = fileOf(name, path, tree);
      return file === undefined ? [] : [{ shape, where: path, name, file }];
    }),
  );
}

/** The file that a name means: from the theme, from the including file, or anywhere with another ending. */
function fileOf(name: string, from: string, tree: FileTree): string | undefined {
  const direct = [name.replace(/^\.?\//, ''), resolveInTree(folderOf(from), name)];
  const found = direct.find((each): each is string => each !== undefined && tree.get(each)?.kind === 'file');
  if (found !== undefined) return found;
  const wanted = name.replace(/^\.?\//, '');
  return tree.entries.find(
    ({ path, kind }) => kind === 'file' && isMarkup(path, tree) && `/${path.replace(/\.\w+$/, '')}`.endsWith(`/${wanted}`),
  )?.path;
}

/** Where included pieces are, when all names lead there in the same way. */
function partialShape(includes: readonly ResolvedInclude[]): string | undefined {
  const shapes = new Set(
    includes.map(({ name, file }) => {
      const plain = name.replace(/^\.?\//, '');
      const at = file.lastIndexOf(plain);
      return at < 0 ? '' : `${file.slice(0, at)}{path}${file.slice(at + plain.length)}`;
    }),
  );
  const [only, ...more] = shapes;
  return more.length === 0 && only !== undefined && only !== '' ? only : undefined;
}

/** A glob for each folder at the top that has templates, with its ending. */
function globsOf(paths: readonly string[]): string[] {
  const globs = paths.map((path) => {
    const [top = ''] = path.split('/');
    const ending = path.slice(path.lastIndexOf('.'));
    return path.includes('/') ? `${top}/**/*${ending}` : `*${ending}`;
  });
  return [...new Set(globs)].sort();
}

function roleName(path: string): string {
  return baseOf(path)
    .replace(/\..*$/, '')
    .replace(/[^A-Za-z0-9-]+/g, '-')
    .toLowerCase();
}

/** Pictures at the top that show the theme to people. */
export function guessImages([first]: readonly SampleTheme[]): GuessedImage[] {
  return (first?.tree.entries ?? []).flatMap(({ path, kind }): GuessedImage[] => {
    const ending = kind === 'file' ? COVERS.exec(baseOf(path))?.[1]?.toLowerCase() : undefined;
    if (ending === undefined || first === undefined || path.split('/').length > 2) return [];
    const size = sizeOf(first.tree, path);
    const format = ending === 'jpeg' ? 'jpg' : (ending as GuessedImage['format']);
    return [{ role: baseOf(path).replace(/\..*$/, '').toLowerCase(), path, format, width: size?.width, height: size?.height }];
  });
}

function sizeOf(tree: FileTree, path: string): { width: number; height: number } | undefined {
  try {
    const { width, height } = imageSize(tree.read(path));
    return width > 0 && height > 0 ? { width, height } : undefined;
  } catch {
    return undefined;
  }
}

/** The stylesheet that the host probably loads by itself: one at the top that nothing of the theme refers to. */
export function guessMainSheet([first]: readonly SampleTheme[]): string | undefined {
  const sheets = (first?.tree.entries ?? []).flatMap(({ path, kind }) => (kind === 'file' && /^[^/]+\.css$/.test(path) ? [path] : []));
  return sheets.length === 1 ? sheets[0] : undefined;
}
