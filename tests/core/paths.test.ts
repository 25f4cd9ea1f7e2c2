import { posix, win32 } from 'node:path';
import { expect, it } from 'vitest';
import { matchesGlob } from '../../src/core/files/glob.ts';
import { pathsOn } from '../../src/core/files/paths.ts';

it.each([
  { on: 'posix', path: '/srv/themes/paso', folder: '/srv/themes', within: true, from: 'paso' },
  { on: 'posix', path: '/srv/themes', folder: '/srv/themes', within: true, from: '' },
  { on: 'posix', path: '/srv/themes-old/paso', folder: '/srv/themes', within: false, from: '../themes-old/paso' },
  { on: 'posix', path: '/srv/themes/..paso', folder: '/srv/themes', within: true, from: '..paso' },
  { on: 'posix', path: '/srv/paso', folder: '/', within: true, from: 'srv/paso' },
  { on: 'posix', path: '/srv/themes/pa\\so', folder: '/srv/themes', within: true, from: 'pa\\so' },
  { on: 'posix', path: '/srv/Themes/paso', folder: '/srv/themes', within: false, from: '../Themes/paso' },
  { on: 'win32', path: 'Z:\\Themes\\Paso\\css', folder: 'z:\\themes', within: true, from: 'Paso/css' },
  { on: 'win32', path: 'z:/themes/paso', folder: 'Z:\\themes', within: true, from: 'paso' },
  { on: 'win32', path: 'C:\\themes\\paso', folder: 'Z:\\themes', within: false, from: 'C:/themes/paso' },
  { on: 'win32', path: 'Z:\\paso', folder: 'Z:\\', within: true, from: 'paso' },
  { on: 'win32', path: '\\\\host\\share\\paso', folder: '\\\\host\\share', within: true, from: 'paso' },
  { on: 'win32', path: 'Z:\\themes-old', folder: 'Z:\\themes', within: false, from: '../themes-old' },
])('on $on $path is seen from $folder', ({ on, path, folder, within, from }) => {
  const { isWithin, isBelow, pathFrom, displayPath } = pathsOn(on === 'win32' ? win32 : posix);
  expect([isWithin(path, folder), isBelow(path, folder), pathFrom(folder, path)]).toEqual([within, within && from !== '', from]);
  expect(displayPath(path, folder)).toBe(within ? from || '.' : path);
});

it.each([
  ['[!l]*/**/*.html', 'partials/hut.html', true],
  ['[!l]*/**/*.html', 'locales/hut.html', false],
  ['hut[!0-9].css', 'huts.css', true],
  ['hut[!0-9].css', 'hut!.css', true],
  ['hut[!0-9].css', 'hut1.css', false],
])('the glob %s, and %s', (glob, path, fits) => {
  expect(matchesGlob(path, glob)).toBe(fits);
});
