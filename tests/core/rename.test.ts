import { createHash } from 'node:crypto';
import { brotliCompressSync, brotliDecompressSync, gunzipSync, gzipSync } from 'node:zlib';
import fc from 'fast-check';
import { mo, po as poParser } from 'gettext-parser';
import { describe, expect, it } from 'vitest';
import { MemoryTree, type MemoryItem } from '../../src/core/files/memory-tree.ts';
import { followTitle } from '../../src/core/names/full-name.ts';
import { SourceDocument } from '../../src/core/text/source-document.ts';
import { named, rename } from '../support/renaming.ts';
import { weigh } from '../../src/core/names/weight.ts';

describe('a tree', () => {
  const files = {
    'sheet.css':
      '/*---\ntitle: "Albar: the theme"\nversion: 1.0.0\nhosts: ">=2"\nauthor: Albar Hut League\n---*/\n@import "css/albar-base.css";\n',
    'css/albar-base.css': '.x { background: url(../albar/mark.png) }\n',
    'albar/mark.png': Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, ...Buffer.from('by albar')]),
    'notes.txt': Buffer.from('Bego\u00f1a, de Albar\r\n', 'latin1'),
    'mine.md': 'By the Albar Hut League. Not albar-kept-here.\n',
  };
  const result = rename(files, named('albar', 'Albar: the theme'), named('lumbre', 'Rock & Ice: "North"'), { keep: ['albar-kept-here'] });

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

  const theme = fc.dictionary(file, line, { minKeys: 1 });
  const there = (files: Record<string, string>) => rename(files, named('quebranta'), named('zigurat'), { keep: ['the quebranta*'] });

  it('what is reported is exactly the difference, and what is kept is unchanged', () => {
    fc.assert(
      fc.property(theme, (files) => {
        const { tree, edits, moves, kept, operations } = there(files);
        for (const [path, text] of Object.entries(files)) {
          const source = SourceDocument.fromText(path, text);
          const own = edits.filter(({ was }) => was.file === path);
          const again = source.withEdits(own.map(({ was, found, becomes }) => rangeOf(source, was, found.length, becomes))).text;
          const after = moves.find((move) => move.from === path)?.to ?? path;
          expect(tree.read(after).toString()).toBe(again);
          for (const place of kept.filter((each) => each.file === after && each.isName !== true)) {
            const { start, end } = rangeOf(SourceDocument.fromText(after, again), place, place.found.length, '');
            expect(again.slice(start, end)).toBe(place.found);
          }
          // A file without any change is copied as it is, with its times.
          const operation = operations.find((each) => each.path === after);
          expect(operation).toMatchObject({ content: { path } });
          expect(JSON.stringify(operation)).toMatch(own.length === 0 ? /^(?!.*"edits")/ : /"edits"/);
        }
      }),
    );
  });

  it('a second run finds nothing, and the order of the files does not matter', () => {
    fc.assert(
      fc.property(theme, (files) => {
        const once = there(files);
        const texts = Object.fromEntries(once.tree.entries.map(({ path }) => [path, once.tree.read(path).toString()]));
        expect(there(texts).edits).toEqual([]);
        const { operations: _, tree: __, ...report } = once;
        expect(there(Object.fromEntries(Object.entries(files).toReversed()))).toMatchObject(report);
      }),
    );
  });
});

function rangeOf(source: SourceDocument, { line, column }: { line: number; column: number }, length: number, text: string) {
  const before = source.text
    .split(/(?<=\r\n|\n|\r(?!\n))/)
    .slice(0, line - 1)
    .join('').length;
  return { start: before + column - 1, end: before + column - 1 + length, text };
}

describe('what depends on the bytes of a changed file', () => {
  const script = 'albar.init();\n';
  const po = 'msgid ""\nmsgstr ""\n"Content-Type: text/plain; charset=UTF-8\\n"\n\nmsgid "hut"\nmsgstr "Albar"\n';
  const digest = (text: string | Buffer) => createHash('sha384').update(text).digest('base64');
  const page = (text: string | Buffer) => `<script src="x.js" integrity="sha384-${digest(text)}"></script>\n`;
  const result = rename(
    {
      'x.js': script,
      'x.js.gz': gzipSync(script),
      'x.js.br': brotliCompressSync(script),
      'y.js': script,
      'y.js.gz': gzipSync('another'),
      'x.js.map': '{"version":3}',
      'page.html': page(script),
      'pages.txt': `sha384-${digest(page(script))} sha384-${digest('unknown')}`,
      'es.po': po,
      'es.mo': mo.compile(poParser.parse(po)),
      'de.po': po,
      'de.mo': mo.compile(poParser.parse(po.replace('Albar', 'Lumbre'))),
      'plain.js': 'x();\n',
      'plain.js.gz': gzipSync('old'),
    },
    named('albar'),
    named('lumbre'),
  );
  const read = (path: string) => result.tree.read(path);

  it('is made anew where it was made from that file', () => {
    expect(gunzipSync(read('x.js.gz'))).toEqual(read('x.js'));
    expect(brotliDecompressSync(read('x.js.br'))).toEqual(read('x.js'));
    expect(mo.parse(read('es.mo')).translations['']?.['hut']?.msgstr).toEqual(['Lumbre']);
    expect(result.rebuilt.map(({ path }) => path)).toEqual(['es.mo', 'x.js.br', 'x.js.gz']);
  });

  it('states its checksum as it now is, also where that changes another checksum', () => {
    expect(read('page.html').toString()).toBe(page('lumbre.init();\n'));
    expect(read('pages.txt').toString()).toBe(`sha384-${digest(page('lumbre.init();\n'))} sha384-${digest('unknown')}`);
    expect(result.edits.filter((edit) => edit.kind === 'derived').map((edit) => edit.file)).toEqual(['page.html', 'pages.txt']);
  });

  it('is told of where it cannot be made here', () => {
    expect(result.unsure.map(({ file, reason }) => [file, reason])).toEqual([
      ['de.mo', { code: 'stale-catalogue' }],
      ['x.js.map', { code: 'stale-map' }],
      ['y.js.gz', { code: 'stale-copy' }],
    ]);
  });
});

it('a path that exists only inside a binary is unsure, and the binary is as it was', () => {
  const bundle = Buffer.concat([Buffer.from([0, 1]), Buffer.from('/hut/albar/menu.ui\0'), Buffer.from('albar')]);
  const files = { 'a.bundle': bundle, 'a.js': "open('hut/albar/menu.ui');\nopen('albar/own.png');\n", 'albar/own.png': 'x' };
  const { tree, unsure, kept } = rename(files, named('albar'), named('lumbre'));
  expect(tree.read('a.js').toString()).toBe("open('hut/albar/menu.ui');\nopen('lumbre/own.png');\n");
  expect(tree.read('a.bundle')).toEqual(bundle);
  expect(unsure.map(({ file, line, reason }) => [file, line, reason])).toEqual([['a.js', 1, { code: 'binary-path' }]]);
  expect(kept.map(({ file }) => file)).toEqual(['a.bundle', 'a.bundle']);
});

it('a name that is the author’s as well is unsure in prose, and plain in code', () => {
  const head = '/*---\ntitle: Albar\nversion: 1.0.0\nhosts: ">=2"\nauthor: Albar\n---*/\n.albar-x { }\n';
  const { tree, unsure } = rename({ 'sheet.css': head, 'a.md': 'Albar was founded in 1987.\n' }, named('albar'), named('lumbre'));
  expect(tree.read('sheet.css').toString()).toBe(head.replace('title: Albar', 'title: Lumbre').replace('.albar-x', '.lumbre-x'));
  expect(unsure.map(({ file, reason }) => [file, reason])).toEqual([['a.md', { code: 'author' }]]);
});

it.each([
  ['UTF-8 with a mark', Buffer.from('\uFEFFPe\u00f1a de albar\r\n')],
  ['UTF-16, little end first', Buffer.from('\uFEFFPe\u00f1a de albar\r\n', 'utf16le')],
  ['UTF-16, big end first', Buffer.from('\uFEFFPe\u00f1a de albar\r\n', 'utf16le').swap16()],
  ['ISO 8859-1', Buffer.from('Pe\u00f1a de albar\r\n', 'latin1')],
  ['Windows-1252', Buffer.from([0x80, 0x93, ...Buffer.from(' albar'), 0x94])],
])('%s comes back byte for byte', (_encoding, bytes) => {
  const there = rename({ 'a.txt': bytes }, named('albar'), named('lumbre')).tree.read('a.txt');
  expect(there).not.toEqual(bytes);
  expect(rename({ 'a.txt': there }, named('lumbre'), named('albar')).tree.read('a.txt')).toEqual(bytes);
});

it('accented letters are found in composed and decomposed form, and written in the form they had', () => {
  const files = { 'a.md': `Pe\u00f1a Sur, Pen\u0303a Sur, pe\u00f1a-sur` };
  const { tree, leftovers } = rename(files, named('albar', 'Pe\u00f1a Sur'), named('lumbre', 'A\u00f1o'));
  expect(tree.read('a.md').toString()).toBe('A\u00f1o, An\u0303o, a\u00f1o');
  expect(leftovers).toEqual([]);
});

it.each([
  [{}, 'CHANGES.md: oak 1|a.md: An oak, not elm-kept. Icons by oak|para-oak.css:'],
  [{ include: ['unsure'], keep: ['oak-k*'] }, 'CHANGES.md: oak 1|a.md: An elm, not oak-kept. Icons by oak|para-elm.css:'],
  [{ include: ['unsure'], keep: ['a.md', '*oak.css'] }, 'CHANGES.md: oak 1|a.md: An oak, not oak-kept. Icons by oak|para-oak.css:'],
  [{ include: ['unsure', 'history', 'credit'] }, 'CHANGES.md: elm 1|a.md: An elm, not elm-kept. Icons by elm|para-elm.css:'],
  [{ include: ['An oak'] }, 'CHANGES.md: oak 1|a.md: An elm, not elm-kept. Icons by oak|para-oak.css:'],
  [
    {
      decisions: new Map([
        ['a.md:1:4', 'ash'],
        ['a.md:1:13', null],
        ['para-oak.css:0:0', 'ash.css'],
      ]),
    },
    'CHANGES.md: oak 1|a.md: An ash, not oak-kept. Icons by oak|ash.css:',
  ],
])('wished is %j', (wishes, wanted) => {
  const files = { 'a.md': 'An oak, not oak-kept.\nIcons by oak', 'CHANGES.md': 'oak 1', 'para-oak.css': '' };
  const { tree } = rename(files, named('oak'), named('elm'), wishes);
  const found = tree.entries.map(({ path }) => `${path}: ${tree.read(path).toString()}`.trim().replace('\n', ' '));
  expect(found.sort()).toEqual(wanted.split('|').sort());
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
  const renamed = rename(new MemoryTree(items), named('albar'), named('lumbre'));
  const targets = Object.fromEntries(
    renamed.operations.flatMap((operation) => (operation.op === 'link' ? [[operation.path, operation.target]] : [])),
  );
  expect(targets).toEqual({ 'img/lumbre-link': './lumbre.png', top: 'img/lumbre.png', away: '../../elsewhere/albar.png' });
  expect(renamed.kept).toEqual([expect.objectContaining({ file: 'away', reason: { code: 'fixed-link' } })]);
  expect(renamed.leftovers).toEqual([]);
});

describe('names that others ask for', () => {
  const index = (more: string): string =>
    `[Icon Theme]\nName=Albar\nName[es]=Albar\nComment=Icons\nDirectories=apps\nHidden=true\n${more}\n[apps]\nSize=16\n`;

  it('are those of files that the host owns, and of what refers to them; translated titles follow', () => {
    const files = { 'index.theme': index('X-Sample=apps/albar.svg'), 'apps/albar.svg': '<svg/>', 'apps/albar-hut.svg': '<svg/>' };
    const { tree, kept, moves, leftovers } = rename(files, named('albar'), named('cumbre-sur'), { platform: 'icons' });
    expect(moves).toEqual([]);
    expect(tree.read('index.theme').toString()).toBe(index('X-Sample=apps/albar.svg').replaceAll('=Albar', '=Cumbre Sur'));
    expect([kept.map(({ reason }) => reason.code), leftovers]).toEqual([['host', 'host', 'host'], []]);
  });

  it('are the keys of the contract, its choices, and the endings of files', () => {
    const text = index('').replace('Name=Albar\nName[es]=Albar', 'Name=Hidden');
    const files = { 'index.theme': `${text}Script=hidden.hidden\n`, 'hidden.hidden': 'x', 'hidden-true.png': 'x' };
    const result = rename(files, named('hidden', 'Hidden'), named('lumbre'), { platform: 'icons' });
    expect(result.tree.read('index.theme').toString()).toContain('Name=Lumbre\nComment=Icons\nDirectories=apps\nHidden=true\n');
    expect(result.moves).toEqual([]);
    const included = rename(files, named('hidden', 'Hidden'), named('lumbre'), { platform: 'icons', include: ['unsure'] });
    expect(included.moves).toEqual([
      { from: 'hidden-true.png', to: 'lumbre-true.png' },
      { from: 'hidden.hidden', to: 'lumbre.hidden' },
    ]);
    expect(included.tree.read('index.theme').toString()).toContain('Hidden=true\n');
    expect(included.tree.read('index.theme').toString()).toContain('Script=lumbre.hidden\n');
  });
});

it('leaves packages of others alone, and what says of itself that it is another product', () => {
  const files = {
    'lib/grid/package.json': '{ "name": "hut-grid" }\n',
    'lib/grid/grid.css': '.albar-x { }\n',
    'lib/own/package.json': '{ "name": "@huts/albar-tools" }\n',
    'lib/own/own.css': '.albar-x { }\n',
    'js/slider.min.js': '/*! Slider v2.0.1 | MIT licence */albar();\n',
    'js/albar.min.js': '/*! Albar v9.0 | (c) 2020 The Ridge people | MIT */albar();\n',
    'js/own.min.js': '/*! albar menu 2.0.1 | MIT licence */albar();\n',
  };
  const { tree, kept } = rename(files, named('albar'), named('lumbre'));
  expect(tree.read('lib/grid/grid.css').toString()).toBe(files['lib/grid/grid.css']);
  expect(tree.read('lib/own/own.css').toString()).toBe('.lumbre-x { }\n');
  expect(tree.read('js/slider.min.js').toString()).toBe(files['js/slider.min.js']);
  expect(tree.read('js/own.min.js').toString()).toContain('lumbre();');
  expect([...new Set(kept.map(({ file, reason }) => `${file} ${reason.code}`))]).toEqual([
    'js/albar.min.js third-party',
    'js/slider.min.js third-party',
    'lib/grid/grid.css third-party',
  ]);
});

describe('a common word', () => {
  const stone = (files: Record<string, string>, platform = 'vereda') =>
    rename(files, named('stone', 'Stone'), named('lumbre'), { platform });

  it('is proven everywhere by an identifier that is proven once, also as the beginning of a longer one', () => {
    const { tree, unsure } = stone(
      {
        'lib/b.php': '<?php\nfunction stone_menu() {}\n',
        'lib/a.php': "<?php\nx('stone_menu'); stone_menu_item(); stone_other(); $stone;\n",
      },
      'tramo',
    );
    expect(tree.read('lib/a.php').toString()).toBe("<?php\nx('lumbre_menu'); lumbre_menu_item(); stone_other(); $stone;\n");
    expect(unsure.map(({ found, column }) => [found, column])).toEqual([
      ['stone', 39],
      ['stone', 55],
    ]);
  });

  it('is proven by a series of files, and by what lies at its address', () => {
    const { moves, tree, unsure } = stone({
      'pictures/stone_1.png': '',
      'pictures/stone_2.png': '',
      'pictures/stone_3.png': '',
      'pictures/stone_wall.png': '',
      'css/a.css': 'a { background: url(../pictures/stone_2.png) }\nb { background: url(../pictures/stone_wall.png) }\n',
      'docs/a.yaml': 'a: x/stone/css/a.css\nb: x/stone/css/b.css\n',
    });
    expect(moves.map(({ to }) => to)).toEqual(['pictures/lumbre_1.png', 'pictures/lumbre_2.png', 'pictures/lumbre_3.png']);
    expect(tree.read('css/a.css').toString()).toContain('url(../pictures/lumbre_2.png)');
    // A name and what refers to it change together or not at all.
    expect(tree.read('css/a.css').toString()).toContain('url(../pictures/stone_wall.png)');
    expect(tree.read('docs/a.yaml').toString()).toBe('a: x/lumbre/css/a.css\nb: x/stone/css/b.css\n');
    expect(unsure.map(({ file, reason }) => `${file} ${reason.code}`)).toEqual([
      'css/a.css common-file',
      'docs/a.yaml common-name',
      'pictures/stone_wall.png common-file',
    ]);
  });
});

it('makes a compiled catalogue anew when its messages agree, whoever saved it last', () => {
  const text = (by: string): string => `msgid ""\nmsgstr "Last-Translator: ${by}\\n"\n\nmsgid "albar"\nmsgstr "El albar"\n`;
  const compiled = (source: string): Buffer => mo.compile(poParser.parse(source));
  const { tree, rebuilt } = rename(
    {
      'words/a.po': text('one'),
      'words/a.mo': compiled(text('other')),
      'words/b.po': text('one'),
      'words/b.mo': compiled(text('one').replace('El', 'La')),
    },
    named('albar'),
    named('lumbre'),
  );
  expect(rebuilt.map(({ path }) => path)).toEqual(['words/a.mo']);
  expect(mo.parse(tree.read('words/a.mo')).translations['']?.['lumbre']?.msgstr).toEqual(['El lumbre']);
});
