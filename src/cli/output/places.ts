import { join } from 'node:path';
import { pathFrom } from '../../core/files/paths.ts';

/** The path of a theme's file from the current folder, with `/`; of the theme as a whole, its folder. Both folders are absolute. */
export function placeFrom(currentFolder: string, folder: string, file: string): string {
  return pathFrom(currentFolder, join(folder, file)) || '.';
}
