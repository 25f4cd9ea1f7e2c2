import { expect, it } from 'vitest';
import { isAffected, type CheckBasis } from '../../src/core/rules/engine/check-basis.ts';
import { checkFolders } from '../../src/core/rules/engine/check-folders.ts';
import { Workplace } from '../support/program.ts';

const basis: CheckBasis = {
  folders: ['/site/themes/paso', '/site/commons/huts', '/elsewhere/albar'],
  shelves: ['/site/themes'],
  depth: 1,
  shared: ['hooks.php', 'code/**/*.php'],
  siblings: ['/site/themes/paso', '/site/themes/lumbre'],
  configurations: ['/site/pionero.yaml'],
};

it.each([
  ['/site/themes/paso/sheet.css', true],
  ['/site/themes/paso/docs/a/b.txt', true],
  ['/site/themes/paso', true],
  ['/site/commons/huts/a.css', true],
  ['/elsewhere/albar/sheet.css', true],
  ['/elsewhere/albar-noche/sheet.css', false],
  ['/site/themes/lumbre', true],
  ['/site/themes/lumbre/sheet.css', false],
  ['/site/themes/lumbre/hooks.php', true],
  ['/site/themes/lumbre/code/a/b.php', true],
  ['/site/themes/paso/node_modules/x/a.css', false],
  ['/site/themes/paso/.git/index', false],
  ['/site/pionero.yaml', true],
  ['/site/themes/pionero.yaml', true],
  ['/site/notes.txt', false],
])('a change of %s: %s', (path, wanted) => {
  expect(isAffected(basis, path)).toBe(wanted);
});

it.each([
  [2, '/site/design/HutLeague', false],
  [2, '/site/design/HutLeague/lumbre', true],
  [2, '/site/design/HutLeague/pionero.yaml', true],
])('on a shelf %d folders deep, a change of %s: %s', (depth, path, wanted) => {
  expect(isAffected({ ...basis, shelves: ['/site/design'], depth }, path)).toBe(wanted);
});

it('says what a check has looked at', async () => {
  const place = new Workplace().withShelf();
  const folders = [place.path('demo/shelf/albar-noche')];
  const [checked] = await checkFolders({
    currentFolder: '/',
    folders,
    platform: 'vereda',
    shelves: [],
    platformFolder: '/nowhere',
    purpose: 'install',
    agreed: [],
  });
  expect(checked?.basis).toEqual({
    folders: [place.path('demo/shelf/albar-noche'), place.path('demo/shelf/albar')],
    shelves: [place.path('demo/shelf')],
    depth: 1,
    shared: ['sheet.css', 'README.md', 'hooks.php'],
    siblings: ['albar', 'albar-noche', 'cornisa'].map((id) => place.path(`demo/shelf/${id}`)),
    configurations: [],
  });
});
