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
  const byFolder = new Map<string, string[]>();
  for (const { path, kind } of tree.entries)
    if (kind === 'file' && isCode(path)) byFolder.set(folderOf(path), [...(byFolder.get(folderOf(path)) ?? []), path]);
  return paths.filter((path) => {
    if (!isCode(path)) return false;
    const around = [folderOf(path), folderOf(folderOf(path))].flatMap((folder) => byFolder.get(folder) ?? []);
    const name = path.slice(folderOf(folderOf(path)).length).replace(/^\//, '');
    return around.some((other) => other !== path && [baseOf(path), name].some((each) => goesOn(each, stemOf(other))) && isForeign(other));
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

/** Whether a name begins with a stem of some length, and with a joint or an ending behind it. */
function goesOn(name: string, stem: string): boolean {
  return stem.length >= 4 && name.toLowerCase().startsWith(stem.toLowerCase()) && /^[-._/]/.test(name.slice(stem.length));
}
