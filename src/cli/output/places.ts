import { basename, join } from 'node:path';
import { pathFrom } from '../../core/files/paths.ts';

/** The path of a theme's file from the current folder, with `/`; of the theme as a whole, its folder. Both folders are absolute. */
export function placeFrom(currentFolder: string, folder: string, file: string): string {
  return pathFrom(currentFolder, placeOfFile(folder, file)) || '.';
}

/** Where a theme's file lies; of a theme that is one file, that is the place of the theme itself. */
export function placeOfFile(folder: string, file: string): string {
  return file.includes('.') && basename(folder) === file ? folder : join(folder, file);
}
