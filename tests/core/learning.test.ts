import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { RefusedError } from '../../src/core/errors.ts';
import { DiskTree } from '../../src/core/files/disk-tree.ts';
import { MemoryTree } from '../../src/core/files/memory-tree.ts';
import { draftPlatform } from '../../src/core/learning/draft.ts';
import { planFirstKit } from '../../src/core/learning/first-kit.ts';
import { judgeThemes, type Fitted } from '../../src/core/learning/fit.ts';
import { measurePlatform } from '../../src/core/learning/support.ts';
import type { SampleTheme } from '../../src/core/learning/theme-set.ts';
import { learnType, type SampleValue } from '../../src/core/learning/values.ts';
import { Theme } from '../../src/core/theme/theme.ts';
import { boardFiles, HUTS, makeBoards } from '../support/boards.ts';

let root = '';
let count = 0;
beforeAll(() => (root = mkdtempSync(join(tmpdir(), 'pionero-learning-'))));
afterAll(() => rmSync(root, { recursive: true, force: true }));

const freshShelf = (): string => join(root, `${++count}`, 'boards');

function draft(themes: readonly SampleTheme[], shelf: string, more: Partial<Parameters<typeof draftPlatform>[0]> = {}): Fitted {
  return draftPlatform({
    themes,
    wishes: { name: 'boards' },
    folderName: 'boards',
    file: 'boards.platform.yaml',
    folder: root,
    shelves: [shelf],
    ...more,
  });
}

type Change = Parameters<typeof makeBoards>[2];
function learn(change?: Change, ids: readonly string[] = HUTS): Fitted & { shelf: string; themes: SampleTheme[] } {
  const shelf = freshShelf();
  const themes = makeBoards(shelf, ids, change);
  return { ...draft(themes, shelf), shelf, themes };
}

const inManifest =
  (from: string | RegExp, to: string, only: (id: string) => boolean = () => true): Change =>
  (id, files) =>
    only(id) ? { ...files, 'board.desc': (files['board.desc'] ?? '').replace(from, to) } : files;

describe('a platform file learned from themes', () => {
  it.each([
    '- { path: board.desc, holds: "[board]" }',
    '- path: board.desc # 16 of 16',
    'syntax: ini',
    '{ key: [board, code], fact: id, type: id, required: always } # 16 of 16',
    '{ key: [board, title], fact: title, translations: "title[{locale}]", required: always }',
    '{ key: [board, version], fact: version, type: version, required: always }',
    '{ key: [board, base], fact: parent, type: parent, required: always }',
    '{ key: [board, width], fact: boardWidth, type: integer, required: always }',
    'fact: boardInk, type: color, required: always',
    'fact: boardLit, type: choice, values: ["yes", "no"]',
    'fact: boardMood, type: choice, values: ["calm", "snow", "storm"]',
    '{ key: [board, picture], fact: cover, type: path, required: always }',
    '{ path: "{id}.sheet", required: always }',
    '{ role: cover, path: art/cover.svg, formats: [svg] }',
    `- '{take "{path}"' # 32 of 32`,
    'language:\n    print: ["{$ {text} }"]\n    include:',
    '- { opens: "{when {text}}", closes: "{/when}" }',
    'front: { file: sheets/front.tpl } # 16 of 16',
    'partials: { file: "{path}" }',
    'built-in: [ground]',
  ])('says %s', (line) => {
    expect(learned().text).toContain(line);
  });

  it('takes all of them, and names neither a setting that few have, nor a file of a package manager', () => {
    const { taken, refused, text } = learned();
    expect([taken.length, refused, /whim|package\.json|README/.test(text)]).toEqual([16, [], false]);
  });

  const pictures = Object.fromEntries(Array.from({ length: 22 }, (_, i) => [`pins/16/pin-${i}.svg`, '<svg/>']));
  it.each<[what: string, more: (id: string) => Record<string, string>, lines: string[]]>([
    [
      'what a stylesheet asks for is made of another file, or known by another name',
      () => ({
        'style/a.css': '@import "b.css";\n.a { background: url("../_art/cover.svg?1") }\n',
        'style/b.css_x': '',
        'style/c.css.map': '',
      }),
      ['- { file: "{path}.css", from: "{path}.css_x" } # 16 addresses', '- { folder: art, as: _art }'],
    ],
    [
      'a parent of the host’s own serves what its children ask for',
      () => ({ 'style/a.css': '@import "ground.css";\n' }),
      ['ground: [style/ground.css]'],
    ],
    [
      'catalogues of texts',
      () => ({ 'words/en.yml': 'hut: "a\n  hut"\n', 'words/pt-BR.yml': 'hut: cabana\n' }),
      ['strings: { file: "words/{locale}.yml", format: yaml, options: { lenient: true }, incomplete: true } # 16 of 16'],
    ],
    [
      'catalogues in a folder for each language',
      (id) =>
        Object.fromEntries(
          ['es', 'de'].map((locale) => [
            `words/${locale}/${id}.po`,
            `msgid ""\nmsgstr ""\n"Language: ${locale}\\n"\n"Content-Type: text/plain; charset=UTF-8\\n"\n`,
          ]),
        ),
      ['strings: { file: "words/{locale}/{id}.po", format: po, incomplete: true } # 16 of 16'],
    ],
    ['pictures that the host asks for by name', () => pictures, ['host-files: ["pins/**"] # 23 names of pictures']],
    [
      'releases, from a second document, which says its own name for the rest',
      (id) => ({ 'extra.json': JSON.stringify({ title: `More ${id}`, requires: '>=2 <4' }) }),
      [
        'releases: ["2", "4"]',
        '{ key: requires, fact: hosts, type: range, required: always }',
        '{ key: title, fact: extraJsonTitle, required: always }',
      ],
    ],
    [
      'templates of another language, by their ending',
      (id) => (id < 'm' ? { 'sheets/late.lqd': '{% if a %}<p>{{ a }}</p>{% endif %}' } : {}),
      ['- files: ["**/*.lqd"]', `- { opens: "{%{?-} if {text} %}", closes: "{%{?-} endif {text} %}" }`, '- "sheets/**/*.lqd"'],
    ],
    [
      'regions, by what templates print of a map of names',
      (id) => ({
        'extra.json': JSON.stringify({ areas: { top: 'At the top', [`${id}_side`]: 'Beside' }, mood: { calm: 'x', loud: 'y' } }),
        'sheets/areas.tpl': `{$ area.top }<p>{$ area.${id}_side }</p>{$ calm }{$ loud }`,
      }),
      [
        '{ key: areas, fact: regions, type: map } # 16 of 16; names of regions',
        'regions: { fact: regions, printed: "{$ area.{name} }" } # 32 of 32',
      ],
    ],
    [
      'regions of each role',
      () => ({
        'extra.json': JSON.stringify({ areas: { front: ['top'], note: ['top', 'side'] } }),
        'sheets/areas.tpl': '{$ area.top }{$ area.side }',
      }),
      ['{ key: areas, fact: regions, type: map }', 'printed: "{$ area.{name} }", per-role: true } # 48 of 48'],
    ],
    [
      'bundles, each in a document of its own',
      (id) => ({
        'extra.json': JSON.stringify({ title: id, load: ['base', id] }),
        'sets/base.yml': 'sheets: [style/a.css]\nscripts: [js/a.js]\n',
        [`sets/${id}.yml`]: 'sheets: [style/a.css]\n',
        'style/a.css': '',
        'js/a.js': '',
      }),
      [
        '{ key: load, fact: load, type: list, of: bundle, required: always }',
        '- path: "sets/{name}.yml" # 16 of 16',
        '{ key: scripts, fact: bundleScripts, type: list, of: path } # 16 of 32',
        'bundles: { file: "sets/{name}.yml", sheets: bundleSheets, scripts: bundleScripts } # 32 of 32',
        'bundles-fact: load',
      ],
    ],
    [
      'folders, needed where most name what is in them',
      () => ({ 'fonts/hut.woff2': 'x', 'spare/a.txt': 'x', 'style/a.css': '@font-face { src: url("../fonts/hut.woff2") }\n' }),
      ['- { path: fonts, kind: folder, required: always } # 16 of 16', '- { path: spare, kind: folder } # 16 of 16'],
    ],
  ])('says %s', (_what, more, lines) => {
    const { text, taken } = learn((id, files) => ({ ...files, ...more(id) }));
    expect([taken.length, ...lines.filter((line) => !text.includes(line))]).toEqual([16]);
  });

  // Half of the names have two words: the others are alike in most spellings.
  const spelled = HUTS.map((id, i) => (i % 2 === 0 ? id : `${id}-sur`));
  const snake = (id: string): string => id.replace('-', '_');
  const pascal = (id: string): string => id.replace(/(?:^|-)(\w)/g, (_, letter: string) => letter.toUpperCase());
  it.each<[what: string, more: (id: string) => Record<string, string>, lines: string[]]>([
    [
      'a file',
      (id) => ({ [`${snake(id)}.about`]: '' }),
      ['- { path: "{id:snake}.about", required: always } # 16 of 16', '- { path: "{id}.sheet", required'],
    ],
    [
      'a field',
      (id) => ({ 'extra.json': JSON.stringify({ title: id, space: `huts/${pascal(id)}` }) }),
      ['{ key: space, fact: package, shape: "huts/{id:pascal}", required: always }'],
    ],
    [
      'names in code',
      (id) => ({
        'hooks.php': `<?php\nfunction ${snake(id)}_menu() {}\nfinal class ${pascal(id)}Board { function own() {} }\ndefine('X_${snake(id)}', 1);\n`,
      }),
      [
        '- files: ["hooks.php"]',
        'declared: "function {name}("\n    shape: "{id:snake}_{name}" # 16 of 16; names',
        'declared: "final class {name}"\n    shape: "{id:pascal}Board"',
        `declared: "define('{name}'"\n    shape: "{name}_{id:snake}"`,
      ],
    ],
  ])('knows the id in another spelling: in %s', (_what, more, lines) => {
    const { text, taken } = learn((id, files) => ({ ...files, ...more(id) }), spelled);
    expect([taken.length, ...lines.filter((line) => !text.includes(line))]).toEqual([16]);
  });

  it('knows the theme that is most like the others', () => {
    const some = learn((id, files) =>
      id === 'laura' ? files : { ...files, [`extra/${id}-a.tpl`]: '', ...(id < 'l' ? { 'README.md': undefined } : {}) },
    );
    expect([learned().middle, some.middle]).toEqual(['cierzo', expect.not.stringMatching(/^(?:laura|albar|cumbre)$/)]);
  });

  it('says the same in whatever order they are named', () => {
    const { themes, shelf, text } = learned();
    fc.assert(
      fc.property(fc.shuffledSubarray(themes, { minLength: themes.length, maxLength: themes.length }), (order) => {
        expect(draft(order, shelf).text).toBe(text);
      }),
      { numRuns: 5 },
    );
  });

  // What is broken is a seventeenth board, which it was not learned from.
  it.each<[what: string, change: (files: Record<string, string>) => Record<string, string | undefined>, rule: RegExp]>([
    ['a field that is needed', (files) => edited(files, /code = .*\n/, ''), /^field\/missing/],
    ['a file that is needed', (files) => ({ ...files, 'pieces/head.tpl': undefined }), /^(?:file\/missing|template\/partial)/],
    ['its stylesheet', (files) => ({ ...files, 'nube.sheet': undefined }), /^file\/missing/],
    ['a number', (files) => edited(files, /width = .*/, 'width = wide'), /^field\/type/],
    ['a color', (files) => edited(files, /ink = .*/, 'ink = blueish'), /^field\/type/],
    ['one of few values', (files) => edited(files, /mood = .*/, 'mood = wild'), /^field\/type/],
    ['a path', (files) => edited(files, 'art/cover.svg', 'art/gone.svg'), /^field\/path/],
    ['the id', (files) => edited(files, 'code = nube', 'code = albar'), /^id\/agrees/],
    ['the parent', (files) => edited(files, /base = .*/, 'base = nowhere'), /^parent\/missing/],
    ['an include', (files) => ({ ...files, 'sheets/note.tpl': '{take "pieces/gone.tpl"}' }), /^template\/partial/],
    ['a section', (files) => ({ ...files, 'sheets/note.tpl': '{when lit}<p>' }), /^template\/syntax/],
    ['its manifest', (files) => ({ ...files, 'board.desc': undefined }), /^board\.desc is not there/],
    ['nothing', (files) => files, /^$/],
  ])('judges another by it: wrong is %s', (_what, change, said) => {
    const { platform } = learned();
    const shelf = freshShelf();
    const themes = makeBoards(shelf, ['nube'], (id) => change(boardFiles(id, 0)));
    const [refused] = judgeThemes(platform, themes, [shelf]);
    expect(refused?.missing ?? refused?.findings[0]?.rule ?? '').toMatch(said);
  });

  it('refuses the odd one out, and says by which line', () => {
    const { taken, refused } = learn(inManifest(/width = .*/, 'width = wide', (id) => id === 'norte'));
    expect([taken.length, refused.map(({ id, findings }) => [id, findings[0]?.rule])]).toEqual([15, [['norte', 'field/type']]]);
  });

  it.each<[what: string, change: Change, gone: string]>([
    ['a type that several lack', inManifest(/width = .*/, 'width = wide', (id) => id < 'c'), 'fact: boardWidth, type: integer'],
    ['a field that several lack', inManifest(/ink = .*\n/, '', (id) => id < 'd'), 'fact: boardInk, required'],
    ['an id that is none', inManifest(/code = .*/, 'code = x', (id) => id < 'm'), 'type: id'],
    ['parents that nobody knows', (id, files) => edited(files, /base = .*/, `base = ${id}-base`), 'type: parent'],
    [
      'names in code that some do not follow',
      (id, files) => ({ ...files, 'hooks.php': `<?php\nfunction ${id < 'l' ? id : 'x'}_menu() {}\n` }),
      'identifiers:',
    ],
    [
      'regions that some do not declare',
      (id, files) => ({
        ...files,
        'extra.json': JSON.stringify({ title: id, areas: { top: 'T', side: 'S' } }),
        'sheets/areas.tpl': `{$ area.top }{$ area.side }${id < 'd' ? '{$ area.more }' : ''}`,
      }),
      'regions:',
    ],
    [
      'bundles that some do not have',
      (id, files) => ({
        ...files,
        'extra.json': JSON.stringify({ title: id, load: id < 'd' ? ['base', 'gone'] : ['base'] }),
        'sets/base.yml': 'sheets: [style/a.css]\n',
        'style/a.css': '',
      }),
      'of: bundle',
    ],
    [
      'sections that nobody closes',
      (id, files) => (id < 'm' ? { ...files, 'sheets/note.tpl': '{when lit}' } : files),
      'opens: "{when {text}}"',
    ],
  ])('does not hold against the others: %s', (_what, change, gone) => {
    const { text, taken } = learn(change);
    expect([text.includes(gone), taken.length >= 15]).toEqual([false, true]);
  });

  it('knows no parents where the host has none, and begins a kit that stands alone where the host brings the parent', () => {
    const alone = learn((id, files) => edited(files, /base = .*/, `base = ${id}-base`));
    const [first] = alone.themes;
    expect(first && new Theme(alone.platform, first.tree, { id: first.id }, first.id).parents).toEqual([]);
    // What the host's own parent serves, its children do not have themselves.
    const { platform, themes, shelf } = learn((_id, files) => ({ ...files, 'style/a.css': '@import "ground.css";\n' }));
    const kits = themes.slice(1, 3).map((theme) => planFirstKit(platform, theme, [shelf]));
    expect(kits.map(({ problems }) => problems)).toEqual([[], []]);
    for (const { operations, file } of kits) {
      const made = operations.find(({ path }) => path === file);
      expect(made?.op === 'create' && 'bytes' in made.content && made.content.bytes.toString()).toContain('for: standalone');
    }
  });

  it('is told from strangers by a second mark, where the first fits them', () => {
    const shelf = freshShelf();
    const themes = makeBoards(shelf);
    const { text } = draft(themes, shelf, { strangers: [MemoryTree.of({ 'board.desc': '[board]\n' })] });
    expect(text).toMatch(/recognise:\n {2}- \{ path: board\.desc, holds: "\[board\]" \}\n {2}- \{ path: /);
  });

  it('needs no manifest', () => {
    const { text, taken } = learn((_id, files) => ({ ...files, 'board.desc': undefined }));
    expect([text.includes('documents: [] # no file says what a theme is'), taken.length]).toEqual([true, 16]);
  });

  it.each([
    ['board.json', (id: string) => JSON.stringify({ code: id, title: id, width: 900 }), 'syntax: json'],
    ['board.about', (id: string) => `code: ${id}\ntitle: ${id}\nwidth: 900\n`, 'syntax: yaml'],
    [
      'board.head.css',
      (id: string) => `/*=+\ntitle: ${id}\nversion: 1.0.0\n+=*/\n.x { top: 0 }\n`,
      'options: { open: "/*=+", close: "+=*/" }',
    ],
    ['board.css', (id: string) => `/*\nTitle: ${id}\nVersion: 1.0.0\n*/\n.x { top: 0 }\n`, 'syntax: header-lines'],
    [
      'board.rc',
      (id: string) => `! a board\n*.code: ${id}\nframe.*.ink: grey8${id.length % 10}\nframe.width: 4\n`,
      'key: "frame.*.ink", fact: frameInk, type: color',
    ],
    ['board.twice', (id: string) => `[board]\ncode=${id}\nwidth=4\n${id > 'p' ? 'width=5\n' : ''}`, 'repeated: true'],
    ['rc/board.rc', (id: string) => `code: ${id}\nwidth: 900\n`, 'recognise:\n  - { path: rc/board.rc }'],
    ['board', (id: string) => `code ${id}\ntitle ${id}\nwidth 900\n`, 'syntax: key-value'],
    ['{id}.xml', (id: string) => `<board><code>${id}</code><title>${id}</title></board>\n`, 'path: "{id}.xml"'],
  ])('reads %s by what it holds', (path, textOf, said) => {
    const { text, taken } = learn((id, files) => ({ ...files, 'board.desc': undefined, [path.replace('{id}', id)]: textOf(id) }));
    expect([text, taken.length]).toEqual([expect.stringContaining(said), 16]);
  });

  it('refuses themes of two hosts, and says which are of which', () => {
    const shelf = freshShelf();
    const mixed = makeBoards(shelf, HUTS.slice(0, 8), (id, files) =>
      id < 'm' ? files : { 'stall.toml': `title = "${id}"\n`, 'stall/page.html': '<p>x</p>\n' },
    );
    expect(() => draft(mixed, shelf)).toThrow(
      expect.objectContaining({
        what: 'these look like themes of 2 hosts, not of one',
        why: expect.stringContaining('have stall.toml') as string,
      }) as RefusedError,
    );
  });

  it('refuses two of one name', () => {
    const [albar] = makeBoards(freshShelf(), ['albar']);
    const other = makeBoards(freshShelf(), ['albar']);
    expect(() => draft([...(albar === undefined ? [] : [albar]), ...other], root)).toThrow(/two of the themes are called albar/);
  });

  it('refuses folders that have nothing in common, and survives what is damaged', () => {
    const shelf = freshShelf();
    const strange = HUTS.slice(0, 4).map((id, i) => ({ id, tree: MemoryTree.of({ [`${i}.txt`]: id }) }));
    expect(() => draft(strange, shelf)).toThrow(RefusedError);
    const damaged = makeBoards(shelf, HUTS, (id, files) =>
      id === 'paso' ? { ...files, 'board.desc': '\u0000\u0001[board\n\n=', 'sheets/front.tpl': '{when '.repeat(20_000) } : files,
    );
    mkdirSync(join(shelf, 'norte/loop'), { recursive: true });
    writeFileSync(join(shelf, 'norte/lines.about'), '#\n'.repeat(60_000));
    symlinkSync('..', join(shelf, 'norte/loop/up'));
    symlinkSync('/etc/passwd', join(shelf, 'norte/outside.desc'));
    writeFileSync(join(shelf, 'norte/large.bin'), Buffer.alloc(3_000_000));
    const reopened = damaged.map(({ id }) => ({ id, tree: new DiskTree(join(shelf, id)) }));
    const { refused, text } = draft(reopened, shelf);
    expect([refused.map(({ id }) => id), text.includes('passwd')]).toEqual([['paso'], false]);
  });

  it('keeps names that hold the end of a line within its comments', () => {
    const tree = MemoryTree.of({ 'board.json': '{ "title": "x\\nname: evil", "version": "1.0.0" }' });
    const { platform, text } = draft([{ id: 'nube\nname: evil', tree }], root);
    expect([platform.contract.name, /^name: evil/m.test(text)]).toEqual(['boards', false]);
  });

  it('blames the lines of sections, and of files that are called like the theme', () => {
    const pins = (size: string) => ['a', 'b', 'c', 'd'].map((name) => `[pins/${name}]\nsize = ${size}\nscale = 2\n`).join('');
    const shelf = freshShelf();
    const { platform } = draft(
      makeBoards(shelf, HUTS, (_id, files) => ({ ...files, 'pins.desc': pins('16') })),
      shelf,
    );
    const wrong = freshShelf();
    const broken = makeBoards(wrong, ['nube'], (id) => ({ ...boardFiles(id, 0), 'pins.desc': pins('wide'), 'nube.sheet': undefined }));
    const { lines } = measurePlatform(platform, broken, [wrong]);
    expect(lines.filter(({ refuses }) => refuses.length > 0).map(({ what }) => what)).toEqual(['pins.desc: *.size', '{id}.sheet']);
  });

  it('counts how many themes a line of any file is true of, and which it refuses', () => {
    const { platform, themes, shelf } = learn(inManifest(/ink = .*/, 'ink = blueish', (id) => id === 'laura'));
    const { lines, refused } = measurePlatform(platform, themes, [shelf]);
    const line = (what: string) => lines.find((each) => each.what === what);
    expect([line('board.desc: board.ink'), line('page front'), refused.map(({ id }) => id)]).toMatchObject([
      { count: 16, of: 16, refuses: ['laura'] },
      { count: 16, of: 16, refuses: [] },
      ['laura'],
    ]);
    expect(platform.source.lineAt(line('board.desc: board.ink')?.line ?? 0)).toContain('key: [board, ink]');
  });
});

let known: ReturnType<typeof learn> | undefined;
/** The boards as they are, learned once. */
function learned(): ReturnType<typeof learn> {
  return (known ??= learn());
}

function edited(files: Record<string, string>, from: string | RegExp, to: string): Record<string, string> {
  return { ...files, 'board.desc': (files['board.desc'] ?? '').replace(from, to) };
}

describe('the type of values', () => {
  const value = (text: string, i: number): SampleValue => ({
    ...{ id: HUTS[i % HUTS.length] ?? '', text, sort: 'text', items: [] },
    isFile: (path) => path === 'a.css' || path === 'static/b.css',
    isSection: (name) => name === 'one' || name === 'two',
  });
  const times = (count: number, ...texts: string[]): string[] => Array.from({ length: count }, (_, i) => texts[i % texts.length] ?? '');
  it.each<[string, string[], string | undefined, object]>([
    ['numbers', times(5, '1', '-2'), undefined, { type: 'integer' }],
    ['colors', times(5, '#369', 'steelblue', 'rgb:33/66/99', 'red3'), undefined, { type: 'color' }],
    ['words, and a color', times(5, 'calm', 'red'), undefined, { type: 'text' }],
    ['fractions', times(5, '1.5', '2'), undefined, { type: 'text', grammar: 'a number' }],
    ['too few numbers', ['1', '2'], undefined, { type: 'text' }],
    ['versions', times(5, '1.2.3', '0.1.0'), 'version', { type: 'version' }],
    ['short versions', times(5, '1.2', '0.1'), 'version', { type: 'text', grammar: 'a number' }],
    ['addresses', times(3, 'https://a.example/'), undefined, { type: 'url' }],
    ['licenses', times(3, 'MIT', 'GPL-2.0-or-later'), 'license', { type: 'license' }],
    ['words that are no license', times(3, 'MIT', 'mine'), 'license', { type: 'text' }],
    ['files', times(3, 'a.css'), undefined, { type: 'path' }],
    ['files in a folder', times(3, 'b.css'), undefined, { type: 'path', under: 'static' }],
    ['files that are not there', times(3, 'c.css'), undefined, { type: 'text' }],
    ['lists of sections', times(4, 'one,two', 'two, one'), undefined, { type: 'list', of: 'section', separator: ',' }],
    ['truths', times(5, 'true', 'false'), undefined, { type: 'choice', values: ['true', 'false'] }],
    ['few values', times(16, 'dawn', 'dusk'), undefined, { type: 'choice', values: ['dawn', 'dusk'] }],
    ['few values, and one of its own', [...times(15, 'dawn', 'dusk'), 'noon'], undefined, { type: 'text' }],
    ['words', times(16, ...HUTS), undefined, { type: 'text' }],
    ['numbers, and an odd one of sixteen', [...times(15, '1', '2', '3', '4', '5', '6'), 'x'], undefined, { type: 'integer' }],
  ])('of %s', (_what, texts, fact, wanted) => {
    expect(learnType(texts.map(value), fact)).toMatchObject(wanted);
  });
});
