import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plannedTree } from '../../src/core/changes/plan.ts';
import { MemoryTree } from '../../src/core/files/memory-tree.ts';
import { OtherNames } from '../../src/core/rename/kept.ts';
import { MovedPaths } from '../../src/core/rename/moved-paths.ts';
import { KnownPaths, renamePart } from '../../src/core/rename/path-names.ts';
import { NameFinder, spellingOf } from '../../src/core/names/name-finder.ts';
import { renameTree } from '../../src/core/rename/rename-tree.ts';
import { judgedLast, matchingFor } from '../support/renaming.ts';
import { escapeTitle, respell } from '../../src/core/rename/respell.ts';
import { scanForLeftovers } from '../../src/core/rename/second-scan.ts';
import { spell, SPELLINGS, type Spelling } from '../../src/core/names/spelling.ts';
import { Theme } from '../../src/core/theme/theme.ts';
import { platformNamed } from '../support/trees.ts';

const albar = { id: 'albar', title: 'Albar' };
const alto = { id: 'alto-valle', title: 'Alto Valle' };

describe('occurrences', () => {
  const edges = (text: string) => new NameFinder('albar').find(text).map((found) => found.edges);

  it.each<[string, string[]]>([
    ['albar', ['free']],
    ['(albar)', ['free']],
    ['albar_x', ['joined']],
    ['x_albar', ['joined']],
    ['albar-x', ['joined']],
    ['--albar-x', ['joined']],
    ['albar--x', ['joined']],
    ['albar- ', ['free']],
    ['albarX', ['joined']],
    ['xAlbar', ['joined']],
    ['XMLAlbar', ['inside-word']],
    ['2Albar', ['joined']],
    ['albarx', ['inside-word']],
    ['xalbar', ['inside-word']],
    ['ALBARX', ['inside-word']],
    ['albar2', ['inside-word']],
    ['2albar', ['inside-word']],
    ['albaré', ['inside-word']],
    ['éalbar', ['inside-word']],
    ['albar\u0301', ['inside-word']],
    ['albar漢', ['free']],
    ['漢albar', ['free']],
    ['жalbar', ['free']],
    ['"\\nalbar"', ['free']],
    ['"\\\\nalbar"', ['inside-word']],
    ['%20albar', ['free']],
    ['\\u00e9albar', ['free']],
    ['$albar->x', ['free']],
    ['albar.albar/albar', ['free', 'free', 'free']],
    ['😀albar😀', ['free']],
  ])('%s', (text, wanted) => {
    expect(edges(text)).toEqual(wanted);
  });

  it('show the spelling that they were written in, whatever it is', () => {
    const finder = new NameFinder('cumbre-sur');
    for (const spelling of Object.keys(SPELLINGS) as Spelling[]) {
      const [found] = finder.find(spell(['cumbre', 'sur'], spelling));
      expect([spelling, found === undefined ? undefined : spellingOf(found)]).toEqual([spelling, spelling]);
    }
  });

  it('are found wherever they stand', () => {
    const around = fc.string({ unit: fc.constantFrom(' ', '(', '"', '/', '\n', '.', '=', '#', '漢') });
    fc.assert(
      fc.property(around, fc.constantFrom('albar', 'Albar', 'ALBAR'), around, (before, name, after) => {
        const found = new NameFinder('albar').find(before + name + after);
        expect(found.map(({ start, end }) => [start, end])).toEqual([[before.length, before.length + 5]]);
      }),
    );
  });
});

describe('the new spelling of one word', () => {
  const at = (text: string, file: string, zone: 'code' | 'string' | 'comment' | 'markup' | 'text' | 'path') => {
    const [found] = new NameFinder('albar').find(text);
    const names = { from: 'albar', to: 'cumbre-sur', fromTitle: 'Albar', toTitle: 'Cumbre Sur' };
    return found === undefined ? undefined : respell(found, names, { text, zone, file });
  };

  it.each<[string, string, Parameters<typeof at>[2], string]>([
    ['albar_x', 'a.php', 'code', 'cumbre_sur'],
    ['albar-x', 'a.css', 'code', 'cumbre-sur'],
    ['albar', 'a.php', 'code', 'cumbre_sur'],
    ['albar', 'a.js', 'code', 'cumbreSur'],
    ['albar', 'a.css', 'code', 'cumbre-sur'],
    ['albar', 'a.js', 'string', 'cumbre-sur'],
    ['"$albar"', 'a.php', 'string', 'cumbre_sur'],
    ['albarX', 'a.js', 'code', 'cumbreSur'],
    ['xAlbar', 'a.js', 'code', 'CumbreSur'],
    ['AlbarX', 'a.php', 'code', 'CumbreSur'],
    ['Albar_X', 'a.php', 'code', 'Cumbre_Sur'],
    ['Albar-X', 'a.txt', 'text', 'Cumbre-Sur'],
    ['Albar', 'a.php', 'code', 'CumbreSur'],
    ['Albar', 'a.md', 'text', 'Cumbre Sur'],
    ['Albar', '', 'path', 'CumbreSur'],
    ['ALBAR_X', 'a.php', 'code', 'CUMBRE_SUR'],
    ['ALBAR', 'a.php', 'code', 'CUMBRE_SUR'],
    ['ALBAR', 'a.md', 'text', 'CUMBRE SUR'],
    ['ALBAR-X', 'a.md', 'text', 'CUMBRE-SUR'],
    ['albar__x', 'a.html', 'markup', 'cumbre-sur'],
    ['albar__x', 'a.php', 'code', 'cumbre_sur'],
    ['__albar__', 'a.js', 'string', 'cumbre_sur'],
    ['x__albar__y', 'a.html', 'markup', 'cumbre-sur'],
  ])('%s in %s (%s)', (text, file, zone, wanted) => {
    expect(at(text, file, zone)).toBe(wanted);
  });

  it('is unknown for what fits no spelling', () => {
    expect(at('aLBaR', 'a.md', 'text')).toBeUndefined();
  });

  it.each<[string, string, Parameters<typeof at>[2], string | undefined]>([
    ['Rock & Ice', 'a.html', 'markup', 'Rock &amp; Ice'],
    ['A "b"', 'a.php', 'string', 'A \\"b\\"'],
    ['A "b"', 'a.json', 'text', 'A \\"b\\"'],
    ['A: b', 'a.yaml', 'text', undefined],
    ['Plain Words', 'a.yaml', 'text', 'Plain Words'],
    ['A: b', 'a.md', 'text', 'A: b'],
  ])('of the title %s in %s (%s)', (title, file, zone, wanted) => {
    expect(escapeTitle(title, { text: '', zone, file })).toBe(wanted);
  });
});

describe('what is kept', () => {
  const groupOf = (path: string, text: string) => judgedLast(path, text, matchingFor({ version: '2.1.0' })).reason?.group;
  const kept = (line: string) => ['link', 'credit'].includes(groupOf('a.md', line) ?? '');

  it.each([
    'Copyright 2026 albar',
    '(c) 2025 The albar team',
    '© albar',
    ' * @author albar',
    'Credits: albar',
    'Icons by albar, CC-BY',
    'author: albar',
    '"author": "albar"',
    'All rights reserved, albar',
    'Courtesy of albar',
    'SPDX-FileCopyrightText: albar',
    'see https://albar.example/x',
    'see https://x.example/themes/albar/',
    'git+ssh://git@x.example/albar.git',
    'mail albar@x.example',
    'mail x@albar.example',
    'www.albar.example',
    '<script src="//albar.example/x.js">',
  ])('in the line: %s', (line) => {
    expect(kept(line)).toBeTruthy();
  });

  it.each([
    'the theme albar',
    '/themes/albar/x.css',
    '.albar { }',
    "load('albar')",
    '@package albar',
    'by the albar hut',
    'written for albar',
    '// albar',
    'albar::setup()',
    'a copy of albar',
  ])('not in the line: %s', (line) => {
    expect(kept(line)).toBe(false);
  });

  it.each([
    ['LICENSE', ''],
    ['LICENCE.md', ''],
    ['docs/CREDITS.txt', ''],
    ['AUTHORS', ''],
    ['CHANGELOG.md', ''],
    ['theme.lock', ''],
    ['theme-lock.json', ''],
    ['vendor/a.php', ''],
    ['js/third-party/a.js', ''],
    ['a.js', '/* automatically generated */'],
    ['a.css', '/* DO NOT EDIT */'],
    ['a.js', '/*! hut-grid v2.1.0 | (c) 2026 The Lumbre people | MIT */'],
    ['css/a.min.css', '/*!\n * Ridge 4.2 (https://ridge.example)\n * Licensed under MIT\n */'],
  ])('in the file %s %s', (path, head) => {
    expect(groupOf(path, `${head}\n.albar {}`)).toBeTruthy();
  });

  it.each([
    ['a.js', '/*! albar v2.1.0 | (c) 2026 The Lumbre people | MIT */'],
    ['a.js', '/* The menu, since 1.2 */'],
    ['a.md', 'Ridge 4.2, MIT licence'],
    ['a.js', 'x(); /*! hut-grid v2.1.0 | MIT */'],
  ])('not in the file %s with the banner %s', (path, head) => {
    expect(groupOf(path, `${head}\nalbar`)).toBeUndefined();
  });

  it.each(['hooks.php', 'license-note.php', 'vendors.html', 'news.page.html', 'locker.json'])('not in the file %s', (path) => {
    expect(groupOf(path, 'albar')).toBeUndefined();
  });

  it('of others’ names: whole, in every spelling, and only when they contain ours', () => {
    const others = new OtherNames('albar', [
      { name: 'albar-noche', code: 'other-theme' },
      { name: 'lumbre', code: 'other-theme' },
      { name: 'Albar', code: 'person' },
    ]);
    const found = (text: string) => others.find(text).map(({ start, end }) => text.slice(start, end));
    expect(found('albar-noche albar_noche AlbarNoche albarNoche ALBAR_NOCHE Albar Noche')).toEqual([
      'albar-noche',
      'albar_noche',
      'AlbarNoche',
      'albarNoche',
      'ALBAR_NOCHE',
      'Albar Noche',
    ]);
    expect(found('albar-noches lumbre albar, noche-albar')).toEqual([]);
  });
});

describe('paths', () => {
  const matching = matchingFor({ to: alto });
  const known = new KnownPaths(platformNamed('vereda'), albar, []);
  it.each([
    ['albar.css', 'alto-valle.css'],
    ['albar-nav.html', 'alto-valle-nav.html'],
    ['albar_look.php', 'alto_valle_look.php'],
    ['AlbarLook.php', 'AltoValleLook.php'],
    ['class-albar.php', 'class-alto-valle.php'],
    ['look_albar.es.po', 'look_alto_valle.es.po'],
    ['albarda.css', 'albarda.css'],
    ['ridge.svg', 'ridge.svg'],
  ])('%s becomes %s', (before, after) => {
    expect(renamePart(before, matching, known).name).toBe(after);
  });

  const moved = new MovedPaths(
    ['css/albar.css', 'partials/albar-nav.html', 'albar'].map((path) => [path, path.replaceAll('albar', 'lumbre')]),
  );
  it.each([
    ['url("../css/albar.css")', true],
    ['{{> partials/albar-nav}}', true],
    ['css/albar.css?v=1', true],
    ['see albar.css', true],
    ['src="albar/logo.png"', true],
    ['the albar theme', false],
    ['css/albar.min.css', false],
    ['albar-nav', false],
  ])('%s refers to one that moves: %s', (text, wanted) => {
    const start = text.indexOf('albar');
    expect(moved.partAt(text, { start, end: start + 5 }) !== undefined).toBe(wanted);
  });
});

describe('the second scan', () => {
  const scan = (files: Record<string, string | Buffer>, from = albar, to = alto) =>
    scanForLeftovers(MemoryTree.of(files), from, to, []).map(({ file, line, column }) => `${file}:${line}:${column}`);

  it.each<[string, Record<string, string | Buffer>, string[]]>([
    ['in a text', { 'a.md': 'x\n the albar' }, ['a.md:2:6']],
    ['in any case', { 'a.md': 'ALBAR aLbAr' }, ['a.md:1:1', 'a.md:1:7']],
    ['in a longer word', { 'a.md': 'albarda' }, ['a.md:1:1']],
    ['in a file’s name', { 'css/albar.css': '' }, ['css/albar.css:1:1']],
    ['in a folder’s name', { 'albar/x.css': '' }, ['albar:1:1']],
    ['in a binary', { 'a.png': Buffer.from('\0\0albar') }, ['a.png:1:3']],
    ['in UTF-16', { 'a.txt': Buffer.from('\uFEFFalbar', 'utf16le') }, ['a.txt:1:1']],
    ['nowhere', { 'a.md': 'alto-valle al bar' }, []],
  ])('finds what is left %s', (_name, files, wanted) => {
    expect(scan(files)).toEqual(wanted);
  });

  it('finds names of several words with any one separator, and new names that hold the old', () => {
    const from = { id: 'cumbre-sur', title: 'Cumbre Sur' };
    expect(scan({ 'a.md': 'cumbre-sur cumbre_sur CumbreSur cumbre sur cumbre.sur cumbre--sur' }, from)).toHaveLength(5);
    expect(scan({ 'a.md': 'paso2 paso2-nav paso' }, { id: 'paso', title: 'Paso' }, { id: 'paso2', title: 'Paso2' })).toEqual(['a.md:1:17']);
  });

  it('agrees with the matcher: what that one leaves is what this one finds', () => {
    const part = fc.constantFrom(
      'albar',
      'Albar',
      'ALBAR',
      'albarda',
      'xalbar',
      '_',
      '-',
      ' ',
      '\n',
      '.',
      'x',
      '©',
      '"',
      'https://albar.example',
      '漢',
      '/',
    );
    fc.assert(
      fc.property(fc.array(part, { maxLength: 25 }), fc.constantFrom('a.md', 'b.php', 'c.js', 'd.css', 'e.html'), (parts, file) => {
        const theme = new Theme(platformNamed('vereda'), MemoryTree.of({ [file]: parts.join('') }), albar, 'albar');
        const renamed = renameTree({ theme, from: albar, to: alto, otherThemes: [], keep: [] });
        const staying = [...renamed.kept, ...renamed.unsure];
        const tree = plannedTree(renamed.operations);
        expect(scanForLeftovers(tree, albar, alto, staying)).toEqual([]);
        expect(scanForLeftovers(tree, albar, alto, [])).toHaveLength(staying.length);
      }),
    );
  });
});
