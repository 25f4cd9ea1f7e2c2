import { baseOf, folderOf, type FileTree } from '../files/file-tree.ts';
import { readText } from '../files/read-text.ts';
import { kindOfPath } from '../text/file-kinds.ts';
import { SourceDocument } from '../text/source-document.ts';
import { thirdParty } from './judges/third-party.ts';
import type { Matching } from './matching.ts';
import { FileView } from './mention.ts';

/** More of a file is not looked at: a banner stands at its head. */
const HEAD = 8000;

/**
 * The files among some that belong to a set of others: beside them lies a file that says so of itself, and whose name they go on:
 * `swipe.css`, `swipe-pages.css`, `swipe/themes.css` beside `swipe.js`.
 */
export function bundledAmong(tree: FileTree, paths: readonly string[], matching: Matching): string[] {
  const heads = new Map<string, boolean>();
  const isForeign = (path: string): boolean => {
    const known = heads.get(path);
    if (known !== undefined) return known;
    const source = readText(tree, path);
    const head = source === undefined ? undefined : SourceDocument.decode(path, Buffer.from(source.text.slice(0, HEAD)));
    const answer = head !== undefined && thirdParty.judgeFile?.(new FileView(head, head.text, matching)) === true;
    heads.set(path, answer);
    return answer;
  };
  // By folder and stem, so that a folder of thousands of files costs no more for each of them.
  const byStem = new Map<string, string[]>();
  for (const { path, kind } of tree.entries) {
    if (kind !== 'file' || !isCode(path)) continue;
    const key = `${folderOf(path)}\0${stemOf(path).toLowerCase()}`;
    const own = byStem.get(key);
    if (own === undefined) byStem.set(key, [path]);
    else own.push(path);
  }
  const beginningOf = (name: string, folder: string): string[] => stemsOf(name).flatMap((stem) => byStem.get(`${folder}\0${stem}`) ?? []);
  return paths.filter((path) => {
    if (!isCode(path)) return false;
    const folder = folderOf(path);
    const above = folder === '' ? [] : beginningOf(`${baseOf(folder)}/${baseOf(path)}`, folderOf(folder));
    return [...beginningOf(baseOf(path), folder), ...above].some((other) => other !== path && isForeign(other));
  });
}

function isCode(path: string): boolean {
  return ['script', 'stylesheet', 'code', 'source-map'].includes(kindOfPath(path));
}

/** A file's name without its endings, and without the marks of a smaller copy. */
function stemOf(path: string): string {
  return (
    baseOf(path)
      .replace(/[.-](?:min|bundle|pkgd|esm|umd|common)(?=\.)/g, '')
      .split('.', 1)[0] ?? ''
  );
}

/** With fewer letters too much else begins so. */
const LEAST = 4;

/** Everything that a name begins with, up to a joint or an ending. */
function stemsOf(name: string): string[] {
  const lower = name.toLowerCase();
  return [...lower.matchAll(/[-._/]/g)].map(({ index }) => lower.slice(0, index)).filter((stem) => stem.length >= LEAST);
}
