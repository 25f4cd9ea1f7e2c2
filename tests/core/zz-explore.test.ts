import { appendFileSync } from 'node:fs';
import { it } from 'vitest';
import { renameTree } from '../../src/core/rename/rename-tree.ts';
import { checkTheme } from '../../src/core/rules/check.ts';
import { kitFiles, onShelf, platformNamed, themeOf } from '../support/trees.ts';

const OPEN = [
  '',
  'url(',
  'url("',
  "url('",
  '@import ',
  '@import "',
  '@import (',
  'image-set(',
  'a{',
  '/*',
  '//',
  '"',
  "'",
  '`',
  '<',
  '<a ',
  '<a b="',
  '<!--',
  '<style>',
  '<script>',
  '{{',
  '{{#a}}',
  '<?php ',
  '<?php "',
  'return [',
  '(',
  '[',
  '{',
  '<<<A\n',
  'msgid "',
  'password = "',
  '-----BEGIN A ',
  '/home/a/',
  'TODO: replace ',
  'pionero-accept a/b ',
  '/* pionero-accept ',
  'cierzo',
  'function cierzo_',
  'http://',
  'srcset="',
  '${',
  '`${',
];
const PIECE = [
  '"\\',
  "'\\",
  '\\',
  '\\"',
  '\\\n',
  '"',
  "'",
  '(',
  ')',
  '[',
  ']',
  '{',
  '}',
  '<',
  '>',
  '/*',
  '*/',
  '//',
  '<!--',
  '-->',
  '{{',
  '}}',
  '{{#a}}',
  ' ',
  '\n',
  '\t',
  ',',
  ';',
  ':',
  '=',
  '-',
  '_',
  '.',
  '/',
  '\\u0063',
  '%63',
  '&#99;',
  'a',
  'A',
  '1',
  'a ',
  'a-',
  'a_',
  'a.',
  'a/',
  'a:',
  'a=',
  'a,',
  '"a"',
  "'a'",
  '"a",',
  '<a>',
  '<a',
  '<?php ',
  '?>',
  'url(',
  '@',
  '#',
  '$',
  '${',
  '%',
  '!',
  '--',
  '__',
  '..',
  '\r\n',
  'é',
  '/a',
  './',
  '../',
];
const platform = platformNamed('vereda');
const kit = kitFiles(platform, 'cierzo');
const N = Number(process.env['XN'] ?? 60000);
const LIMIT = Number(process.env['XL'] ?? 250);
it('x', () => {
  for (const ending of (process.env['XE'] ?? 'css,html,php,js,md,json,yaml,scss').split(',')) {
    for (const open of OPEN)
      for (const piece of PIECE) {
        const text = open + piece.repeat(Math.floor(N / piece.length));
        const path = ending === 'html' ? 'pages/zz.html' : ending === 'md' ? 'NOTES.md' : `styles/zz.${ending}`;
        const { theme, chain, shelves } = onShelf(themeOf(platform, 'cierzo', { ...kit, [path]: text }));
        const t0 = process.cpuUsage();
        checkTheme(theme, chain, shelves);
        const t1 = process.cpuUsage(t0);
        const c = (t1.user + t1.system) / 1000;
        if (c > LIMIT)
          appendFileSync('/tmp/slow.txt', `check ${ending} ${JSON.stringify(open)} ${JSON.stringify(piece)} ${Math.round(c)}\n`);
        const r0 = process.cpuUsage();
        renameTree({ theme, from: { id: 'cierzo', title: 'Cierzo' }, to: { id: 'lumbre', title: 'Lumbre' }, otherThemes: [], keep: [] });
        const r1 = process.cpuUsage(r0);
        const d = (r1.user + r1.system) / 1000;
        if (d > LIMIT)
          appendFileSync('/tmp/slow.txt', `rename ${ending} ${JSON.stringify(open)} ${JSON.stringify(piece)} ${Math.round(d)}\n`);
      }
    appendFileSync('/tmp/slow.txt', `== ${ending} done\n`);
  }
}, 3_000_000);
