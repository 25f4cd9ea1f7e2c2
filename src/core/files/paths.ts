import path, { type PlatformPath } from 'node:path';

/** Questions about paths on disk, and their other forms. */
export interface Paths {
  /** Whether a path is a folder or lies below it. Both are absolute; links are not followed. */
  readonly isWithin: (path: string, folder: string) => boolean;
  /** Whether a path lies below a folder, and is not the folder itself. Both are absolute; links are not followed. */
  readonly isBelow: (path: string, folder: string) => boolean;
  /** Where a path lies from a folder, as documents and patterns write it: with slashes. An absolute path where that is on another drive. */
  readonly pathFrom: (folder: string, path: string) => string;
  /** A path of the system as documents and patterns write it: with slashes. */
  readonly withSlashes: (path: string) => string;
  /** A text with the absolute paths of files in a folder made relative to it. */
  readonly withoutFolder: (text: string, folder: string) => string;
  /** A path as it is shown in a folder, and can be typed there: relative and with slashes when it lies below that. Both are absolute. */
  readonly displayPath: (path: string, currentFolder: string) => string;
}

/**
 * Paths on disk are the system's: they have its separator and its drives, and on some systems a letter in either case is the same. From the
 * root of a theme, in documents, in reports and in patterns paths have slashes. All that compares the former, or makes the latter of
 * them, is here.
 */
export function pathsOn(system: PlatformPath): Paths {
  const withSlashes = (place: string): string => place.split(system.sep).join('/');
  const isWithin = (place: string, folder: string): boolean => {
    const local = system.relative(folder, place);
    return local !== '..' && !local.startsWith(`..${system.sep}`) && !system.isAbsolute(local);
  };
  return {
    isWithin,
    isBelow: (place, folder) => system.relative(folder, place) !== '' && isWithin(place, folder),
    pathFrom: (folder, place) => withSlashes(system.relative(folder, place)),
    withSlashes,
    withoutFolder: (text, folder) => text.split(folder + system.sep).join(''),
    displayPath: (place, currentFolder) =>
      isWithin(place, currentFolder) ? withSlashes(system.relative(currentFolder, place)) || '.' : place,
  };
}

export const { isWithin, isBelow, pathFrom, withSlashes, withoutFolder, displayPath } = pathsOn(path);
