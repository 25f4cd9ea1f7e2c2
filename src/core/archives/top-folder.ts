import type { FileEntry } from '../files/file-tree.ts';

/** The path that a file of a theme has in an archive; an archive without a top folder is the theme itself. */
export function pathInArchive(top: string, path: string): string {
  return top === '' ? path : `${top}/${path}`;
}

/** The same as archives write it: of a folder with a slash at its end. */
export function nameInArchive(top: string, { path, kind }: Pick<FileEntry, 'path' | 'kind'>): string {
  return `${pathInArchive(top, path)}${kind === 'folder' ? '/' : ''}`;
}
