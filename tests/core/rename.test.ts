import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plannedTree } from '../../src/core/changes/plan.ts';
import { MemoryTree, type MemoryItem } from '../../src/core/files/memory-tree.ts';
import { followTitle, weigh, type FullName } from '../../src/core/rename/names.ts';
import { renameTree } from '../../src/core/rename/rename-tree.ts';
import { scanForLeftovers } from '../../src/core/rename/second-scan.ts';
import { spell, splitWords } from '../../src/core/text/spelling.ts';
import { Theme } from '../../src/core/theme/theme.ts';
import { platformNamed } from '../support/trees.ts';

const vereda = platformNamed('vereda');
const named = (id: string, title = spell(splitWords(id), 'title')): FullName => ({ id, title });

function rename(
  files: Record<string, string | Buffer>,
  from: FullName,
  to: FullName,
  others: readonly string[] = [],
  keep: readonly string[] = [],
) {
  const theme = new Theme(vereda, MemoryTree.of(files), from, from.id);
  const renamed = renameTree({ theme, from, to, otherThemes: others, keep });
  const tree = plannedTree(renamed.operations);
  const leftovers = scanForLeftovers(tree, from, to, [...renamed.kept, ...renamed.unsure]);
  return { ...renamed, tree, leftovers };
}

/** file, line before, names, line after, class of the first match. */
type Row = readonly [file: string, before: string, from: string, to: string, after: string, kind: string];

const ROWS: readonly Row[] = [
  // One word: what touches it decides.
  ['a.php', 'function albar_setup() {}', 'albar', 'cumbre-sur', 'function cumbre_sur_setup() {}', 'identifier'],
  ['a.php', "const ALBAR_VERSION = '1';", 'albar', 'cumbre-sur', "const CUMBRE_SUR_VERSION = '1';", 'identifier'],
  ['a.php', 'class AlbarWalker {}', 'albar', 'cumbre-sur', 'class CumbreSurWalker {}', 'identifier'],
  ['a.php', 'class Albar_Walker {}', 'albar', 'cumbre-sur', 'class Cumbre_Sur_Walker {}', 'identifier'],
  ['a.php', '<?php $albar = new Albar();', 'albar', 'cumbre-sur', '<?php $cumbre_sur = new CumbreSur();', 'identifier'],
  ['a.php', '<?php $theme->albar->x;', 'albar', 'cumbre-sur', '<?php $theme->cumbre_sur->x;', 'identifier'],
  ['a.php', "<?php load('albar');", 'albar', 'cumbre-sur', "<?php load('cumbre-sur');", 'identifier'],
  ['a.php', '<?php use Albar\\Setup;', 'albar', 'cumbre-sur', '<?php use CumbreSur\\Setup;', 'identifier'],
  ['a.php', '<?php $x = "Vendor\\\\Albar\\\\Setup";', 'albar', 'cumbre-sur', '<?php $x = "Vendor\\\\CumbreSur\\\\Setup";', 'identifier'],
  ['a.php', '<?php // the setup of Albar', 'albar', 'cumbre-sur', '<?php // the setup of Cumbre Sur', 'text'],
  ['a.php', '<?php echo "one\\nalbar";', 'albar', 'lumbre', '<?php echo "one\\nlumbre";', 'text'],
  ['a.js', 'const albar = setupAlbar();', 'albar', 'cumbre-sur', 'const cumbreSur = setupCumbreSur();', 'identifier'],
  ['a.js', 'function albarSetup() {}', 'albar', 'cumbre-sur', 'function cumbreSurSetup() {}', 'identifier'],
  ['a.js', "on('albar:menu', x)", 'albar', 'cumbre-sur', "on('cumbre-sur:menu', x)", 'identifier'],
  ['a.css', '.albar-nav { --albar-ink: red }', 'albar', 'cumbre-sur', '.cumbre-sur-nav { --cumbre-sur-ink: red }', 'identifier'],
  ['a.css', '.albar { }', 'albar', 'cumbre-sur', '.cumbre-sur { }', 'identifier'],
  ['a.css', '.theme-albar__item { }', 'albar', 'cumbre-sur', '.theme-cumbre-sur__item { }', 'identifier'],
  [
    'a.html',
    '<p data-albar-hut="x" class="nav albar">',
    'albar',
    'cumbre-sur',
    '<p data-cumbre-sur-hut="x" class="nav cumbre-sur">',
    'identifier',
  ],
  ['a.html', '<a href="/themes/albar/x.css">', 'albar', 'cumbre-sur', '<a href="/themes/cumbre-sur/x.css">', 'identifier'],
  ['a.html', '<h1>Welcome to Albar</h1>', 'albar', 'cumbre-sur', '<h1>Welcome to Cumbre Sur</h1>', 'text'],
  ['a.html', '<h1>THE HUTS OF ALBAR</h1>', 'albar', 'cumbre-sur', '<h1>THE HUTS OF CUMBRE SUR</h1>', 'text'],
  ['a.json', '{"albar":{"albarSpacing":4}}', 'albar', 'cumbre-sur', '{"cumbre-sur":{"cumbreSurSpacing":4}}', 'identifier'],
  ['a.ini', '[albar.menu]', 'albar', 'lumbre', '[lumbre.menu]', 'text'],
  ['a.md', 'Albarテーマ and テーマalbar', 'albar', 'lumbre', 'Lumbreテーマ and テーマlumbre', 'text'],
  ['a.md', 'See %20albar%20 and /albar', 'albar', 'lumbre', 'See %20lumbre%20 and /lumbre', 'text'],
  // Several words show their spelling themselves.
  ['a.txt', 'cumbre-sur cumbre_sur cumbreSur CumbreSur', 'cumbre-sur', 'paso', 'paso paso paso Paso', 'text'],
  ['a.txt', 'CUMBRE_SUR CUMBRE-SUR CUMBRESUR', 'cumbre-sur', 'paso', 'PASO PASO PASO', 'text'],
  [
    'a.txt',
    'Cumbre Sur, cumbre sur, Cumbre sur, CUMBRE SUR',
    'cumbre-sur',
    'alto-valle',
    'Alto Valle, alto valle, Alto valle, ALTO VALLE',
    'text',
  ],
  ['a.txt', 'Cumbre_Sur Cumbre-Sur cumbre.sur cumbresur', 'cumbre-sur', 'alto-valle', 'Alto_Valle Alto-Valle alto.valle altovalle', 'text'],
  ['a.txt', 'cumbre_surNav x_cumbre_sur_y', 'cumbre-sur', 'alto-valle', 'alto_valleNav x_alto_valle_y', 'identifier'],
  // Names within names.
  ['a.txt', 'paso paso-nav pasoNav', 'paso', 'paso2', 'paso2 paso2-nav paso2Nav', 'text'],
  ['a.txt', 'cumbre-sur cumbre_sur', 'cumbre-sur', 'cumbre', 'cumbre cumbre', 'text'],
  // What stays.
  ['a.md', 'Words such as albarda, albares, malbar', 'albar', 'lumbre', 'Words such as albarda, albares, malbar', 'kept'],
  ['a.md', 'albarés and albaŕ and аalbar', 'albar', 'lumbre', 'albarés and albaŕ and аlumbre', 'kept'],
  ['a.php', '// Copyright 2026 The Albar people', 'albar', 'lumbre', '// Copyright 2026 The Albar people', 'kept'],
  ['a.php', ' * @author Albar Hut League', 'albar', 'lumbre', ' * @author Albar Hut League', 'kept'],
  ['a.css', '/* Icons by Albar */', 'albar', 'lumbre', '/* Icons by Albar */', 'kept'],
  ['a.html', '<a href="https://albar.example/albar">', 'albar', 'lumbre', '<a href="https://albar.example/albar">', 'kept'],
  ['a.md', 'Write to wardens@albar.example', 'albar', 'lumbre', 'Write to wardens@albar.example', 'kept'],
  ['a.md', 'See albar-noche and AlbarNoche', 'albar', 'lumbre', 'See albar-noche and AlbarNoche', 'kept'],
  ['LICENSE', 'Albar, a theme', 'albar', 'lumbre', 'Albar, a theme', 'kept'],
  ['CHANGELOG.md', '- Albar prints', 'albar', 'lumbre', '- Albar prints', 'kept'],
  ['vendor/x.js', 'albar()', 'albar', 'lumbre', 'albar()', 'kept'],
  ['a.lock', 'albar 1', 'albar', 'lumbre', 'albar 1', 'kept'],
  ['a.js', '/* @generated */ albar()', 'albar', 'lumbre', '/* @generated */ albar()', 'kept'],
  ['a.md', 'the wooden sign of aLBaR', 'albar', 'lumbre', 'the wooden sign of aLBaR', 'unsure'],
  ['a.md', 'The white stone', 'stone', 'lumbre', 'The white stone', 'unsure'],
  ['a.php', '<?php stone_setup();', 'stone', 'lumbre', '<?php lumbre_setup();', 'identifier'],
];

describe('one line', () => {
  it.each(ROWS)('%s: %s (%s → %s)', (file, before, from, to, after, kind) => {
    const result = rename({ [file]: `${before}\n` }, named(from), named(to), /noche/i.test(before) ? ['albar-noche'] : []);
    expect(result.tree.read(file).toString()).toBe(`${after}\n`);
    const classes = [...result.edits.map((edit) => edit.kind), ...result.kept.map(() => 'kept'), ...result.unsure.map(() => 'unsure')];
    expect(classes).toContain(kind);
    expect(result.leftovers).toEqual([]);
  });
});

describe('a tree', () => {
  const files = {
    'sheet.css':
      '/*---\ntitle: "Albar: the theme"\nversion: 1.0.0\nhosts: ">=2"\nauthor: Albar Hut League\n---*/\n@import "css/albar-base.css";\n',
    'css/albar-base.css': '.x { background: url(../albar/mark.png) }\n',
    'albar/mark.png': Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, ...Buffer.from('by albar')]),
    'notes.txt': Buffer.from('Bego\u00f1a, de Albar\r\n', 'latin1'),
    'mine.md': 'By the Albar Hut League. Not albar-kept-here.\n',
  };
  const result = rename(files, named('albar', 'Albar: the theme'), named('lumbre', 'Rock & Ice: "North"'), [], ['albar-kept-here']);

  it('writes the title as the document wants it, and moves files with their references', () => {
    expect(result.tree.read('sheet.css').toString()).toContain('title: "Rock & Ice: \\"North\\""\n');
    expect(result.tree.read('sheet.css').toString()).toContain('@import "css/lumbre-base.css"');
    expect(result.tree.read('css/lumbre-base.css').toString()).toContain('url(../lumbre/mark.png)');
    expect(result.edits.map((edit) => edit.kind)).toEqual(expect.arrayContaining(['declared', 'path', 'text']));
  });

  it('never edits binaries, and keeps encodings and line ends', () => {
    expect(result.tree.read('lumbre/mark.png')).toEqual(files['albar/mark.png']);
    expect(result.tree.read('notes.txt')).toEqual(Buffer.from('Bego\u00f1a, de Lumbre\r\n', 'latin1'));
  });

  it('keeps organisations and what the user wants kept, with places in the new files', () => {
    expect(result.tree.read('mine.md').toString()).toBe(files['mine.md']);
    for (const place of result.kept.filter((each) => !each.file.endsWith('.png'))) {
      const line = result.tree.read(place.file).toString().split('\n')[place.line - 1] ?? '';
      expect(line.slice(place.column - 1).toLowerCase()).toMatch(/^albar/);
    }
    expect(result.leftovers).toEqual([]);
  });

  it('refuses two files that would get one name', () => {
    expect(() => rename({ 'albar.css': '', 'lumbre.css': '' }, named('albar'), named('lumbre'))).toThrow(/both become lumbre.css/);
  });
});

describe('laws', () => {
  const word = fc.constantFrom(
    'the',
    'paso',
    'setup',
    'Nav',
    '42',
    'ñu',
    '{',
    '}',
    '(',
    ';',
    '\n',
    '\r\n',
    '"',
    "'",
    '/*',
    '*/',
    '//',
    '-',
    '_',
    '.',
  );
  const old = fc.constantFrom('quebranta', 'QUEBRANTA', 'Quebranta', 'quebrantaNav', 'nav_quebranta', 'quebranta-x');
  const line = fc
    .array(fc.oneof({ weight: 3, arbitrary: word }, { weight: 1, arbitrary: old }), { maxLength: 30 })
    .map((parts) => parts.join(' '));
  const file = fc.constantFrom('a.php', 'b.js', 'c.css', 'd.html', 'e.md', 'quebranta.json');

  it('there and back gives the same bytes', () => {
    fc.assert(
      fc.property(fc.dictionary(file, line), (files) => {
        const there = rename(files, named('quebranta'), named('zigurat'));
        const back = rename(
          Object.fromEntries(there.tree.entries.map(({ path }) => [path, there.tree.read(path)])),
          named('zigurat'),
          named('quebranta'),
        );
        expect(Object.fromEntries(back.tree.entries.map(({ path }) => [path, back.tree.read(path).toString()]))).toEqual(files);
        expect(there.leftovers).toEqual([]);
      }),
    );
  });

  it('what is not reported is not changed', () => {
    fc.assert(
      fc.property(file, line, (path, text) => {
        const { tree, edits, moves } = rename({ [path]: text }, named('quebranta'), named('zigurat'));
        const after = tree.read(moves[0]?.to ?? path).toString();
        const changed = after.split('\n').filter((each, i) => each !== text.split('\n')[i]).length;
        expect(new Set(edits.map((edit) => edit.line)).size).toBe(changed);
      }),
    );
  });
});

describe('names', () => {
  it.each([
    ['albar', 'Albar', 'cumbre-sur', 'Cumbre Sur'],
    ['albar', 'Albar Theme', 'lumbre', 'Lumbre Theme'],
    ['cumbre-sur', 'cumbre sur', 'paso', 'paso'],
    ['albar', 'The huts', 'lumbre', 'Lumbre'],
  ])('%s “%s” → %s “%s”', (id, title, newId, wanted) => {
    expect(followTitle({ id, title }, newId)).toBe(wanted);
  });

  it.each([
    ['albar', [], 'distinctive'],
    ['albar', ['albar-wide', 'lumbre'], 'part'],
    ['stone', [], 'common'],
    ['sol', [], 'short'],
    ['stone-hut', ['stone'], 'distinctive'],
  ])('%s beside %j says: %s', (id, others, wanted) => {
    expect(weigh(id, others)).toBe(wanted);
  });
});

it('links inside the theme follow what moves; others stay, and are told of', () => {
  const items: MemoryItem[] = [
    { kind: 'file', path: 'img/albar.png', content: { bytes: Buffer.from('') }, size: 0, mode: 0o644 },
    { kind: 'link', path: 'img/albar-link', target: './albar.png' },
    { kind: 'link', path: 'top', target: 'img/albar.png' },
    { kind: 'link', path: 'away', target: '../../elsewhere/albar.png' },
  ];
  const theme = new Theme(vereda, new MemoryTree(items), named('albar'), 'albar');
  const renamed = renameTree({ theme, from: named('albar'), to: named('lumbre'), otherThemes: [], keep: [] });
  const targets = Object.fromEntries(
    renamed.operations.flatMap((operation) => (operation.op === 'link' ? [[operation.path, operation.target]] : [])),
  );
  expect(targets).toEqual({ 'img/lumbre-link': './lumbre.png', top: 'img/lumbre.png', away: '../../elsewhere/albar.png' });
  expect(renamed.kept).toEqual([expect.objectContaining({ file: 'away', reason: 'a link to a place that does not move' })]);
  expect(scanForLeftovers(plannedTree(renamed.operations), named('albar'), named('lumbre'), renamed.kept)).toEqual([]);
});
