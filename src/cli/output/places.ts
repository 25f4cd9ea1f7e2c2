import { join, relative, sep } from 'node:path';

/** The path of a theme's file from the current folder, with `/`; of the theme as a whole, its folder. Both folders are absolute. */
export function placeFrom(currentFolder: string, folder: string, file: string): string {
  return (join(relative(currentFolder, folder), file) || '.').split(sep).join('/');
}
