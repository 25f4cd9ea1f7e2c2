import { mkdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { makeSymlink } from '../support/needs.ts';
import { findConfiguration } from '../../src/core/configuration/configuration.ts';
import { ConfigurationError, UsageError } from '../../src/core/errors.ts';
import { DiskTree } from '../../src/core/files/disk-tree.ts';
import { followLinks, resolveInTree, UnreadableFileError, type FileTree } from '../../src/core/files/file-tree.ts';
import { readText } from '../../src/core/files/read-text.ts';
import { MemoryTree } from '../../src/core/files/memory-tree.ts';
import { SubTree } from '../../src/core/files/sub-tree.ts';
import { rehearse } from '../../src/core/rehearsal/rehearse.ts';
import { findInChain, openChain } from '../../src/core/theme/chain.ts';
import { choosePlatform, openThemeFolder, sharedShelves } from '../../src/core/theme/open.ts';
import { FileNames } from '../../src/core/contents/file-names.ts';
import { findMarkupReferences, findSheetReferences } from '../../src/core/contents/references.ts';
import { setFacts, type FactChange } from '../../src/core/facts/set-facts.ts';
import { Shelves } from '../../src/core/theme/shelf.ts';
import { bumpVersion, findDisagreements, syncFacts } from '../../src/core/facts/sync-facts.ts';
import { Journal } from '../../src/core/changes/journal.ts';
import { Workplace } from '../support/program.ts';
import { Theme } from '../../src/core/theme/theme.ts';
import { platformNamed, themeOf, writeFiles } from '../support/trees.ts';

const AT_ROOT = { currentFolder: '/' };

const vereda = platformNamed('vereda');
const sheet = (title: string, more = '') => `/*---\ntitle: ${title}\nversion: 1.0.0\nhosts: ">=2"\n${more}---*/\n`;

describe('file trees', () => {
  const files = { 'a/b.txt': 'one', 'a/c/d.txt': 'two', 'e.txt': 'three' };
  const onDisk = () => {
    const place = new Workplace();
    writeFiles(place.path('t'), { ...files, '.git/config': 'x', 'node_modules/x.js': 'x' });
    makeSymlink('a/b.txt', place.path('t/link'));
    makeSymlink('link', place.path('t/again'));
    makeSymlink('../outside', place.path('t/out'));
    makeSymlink('round', place.path('t/round'));
    return new DiskTree(place.path('t'));
  };

  it('on disk list everything but tool folders, sorted, and follow links that stay inside', () => {
    const tree = onDisk();
    expect(tree.entries.map((entry) => entry.path)).toEqual(['a', 'a/b.txt', 'a/c', 'a/c/d.txt', 'again', 'e.txt', 'link', 'out', 'round']);
    expect(tree.skipped).toEqual(['.git', 'node_modules']);
    expect(followLinks(tree, 'again')?.path).toBe('a/b.txt');
    expect(tree.read('again').toString()).toBe('one');
    expect([followLinks(tree, 'out'), followLinks(tree, 'round')]).toEqual([undefined, undefined]);
    expect(() => tree.read('out')).toThrow(UnreadableFileError);
  });

  it('on disk answer for one path what they answer after a walk', () => {
    const paths = ['a', 'a/b.txt', 'link', 'link/b.txt', 'nothing', 'e.txt/x', '.git/config', '../t', ''];
    const walked = onDisk();
    expect(walked.entries.length).toBeGreaterThan(0);
    const asked = new DiskTree(walked.root);
    for (const path of paths) expect([path, asked.get(path)]).toEqual([path, walked.get(path)]);
  });

  it('on disk show the head of a large file, and read the whole when that is not enough', () => {
    const place = new Workplace();
    const png = Buffer.concat([Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex'), Buffer.alloc(9000, 7)]);
    const utf16 = Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from('hut '.repeat(3000), 'utf16le')]);
    const late = Buffer.concat([Buffer.alloc(9000, 'a'), Buffer.from([0])]);
    writeFiles(place.path('t'), {
      'a.png': png,
      'a.txt': 'hut '.repeat(3000),
      'wide.txt': utf16,
      'late.txt': late,
      'small.png': png.subarray(0, 40),
    });
    const tree = new DiskTree(place.path('t'));
    expect(tree.read('a.png', (head) => head.length === 4096)).toEqual(png.subarray(0, 4096));
    expect(tree.read('a.png', () => false)).toEqual(png);
    expect(tree.read('small.png', () => true)).toHaveLength(40);
    const texts = ['a.png', 'a.txt', 'wide.txt', 'late.txt', 'small.png'].map((path) => readText(tree, path)?.text);
    expect(texts).toEqual([undefined, 'hut '.repeat(3000), 'hut '.repeat(3000), undefined, undefined]);
  });

  it.each<[string, FileTree]>([
    ['in memory', MemoryTree.of(files)],
    [
      'below a folder',
      new SubTree(MemoryTree.of(Object.fromEntries(Object.entries(files).map(([path, text]) => [`top/${path}`, text]))), 'top'),
    ],
  ])('%s have the same entries', (_name, tree) => {
    expect(tree.entries.map((entry) => [entry.path, entry.kind])).toEqual([
      ['a', 'folder'],
      ['a/b.txt', 'file'],
      ['a/c', 'folder'],
      ['a/c/d.txt', 'file'],
      ['e.txt', 'file'],
    ]);
    expect(tree.read('a/c/d.txt').toString()).toBe('two');
    expect(() => tree.read('nothing')).toThrow(UnreadableFileError);
  });

  it.each([
    ['a/b', '../c', 'a/c'],
    ['', './x//y', 'x/y'],
    ['a', '../../x', undefined],
    ['', '..', undefined],
  ])('resolve %j and %j to %j', (folder, path, resolved) => {
    expect(resolveInTree(folder, path)).toBe(resolved);
  });
});

describe('chains', () => {
  const shelf = (themes: Record<string, Record<string, string>>, platform = vereda, place = new Workplace()) => {
    for (const [path, files] of Object.entries(themes)) writeFiles(place.path(path), files);
    return { place, shelves: new Shelves(platform, [place.path('layers'), place.folder]) };
  };
  const open = (shelves: Shelves, id: string) => {
    const shelved = shelves.find(id);
    if (shelved === undefined) throw new Error(`no ${id}`);
    const theme = shelves.open(shelved);
    return { theme, chain: openChain(theme, shelves) };
  };

  it('lead from parent to parent, and serve the nearest file that may be inherited', () => {
    const { shelves } = shelf({
      root: { 'sheet.css': sheet('Root'), 'main.html': 'root', 'pages/list.html': 'root', 'styles/x.css': '' },
      middle: { 'sheet.css': sheet('Middle', 'parent: root\n'), 'main.html': 'middle' },
      leaf: { 'sheet.css': sheet('Leaf', 'parent: middle\n') },
    });
    const { chain } = open(shelves, 'leaf');
    expect(chain.themes.map((theme) => theme.names.id)).toEqual(['leaf', 'middle', 'root']);
    expect(findInChain(chain, 'main.html')?.theme.names.id).toBe('middle');
    expect(findInChain(chain, 'pages/list.html')?.theme.names.id).toBe('root');
    expect(findInChain(chain, 'styles/x.css')).toBeUndefined();
  });

  it.each([
    ['a circle', { a: 'b', b: 'c', c: 'a' }, { kind: 'circle', id: 'a' }, ['a', 'b', 'c']],
    ['itself', { a: 'a' }, { kind: 'circle', id: 'a' }, ['a']],
    ['a parent that is not there', { a: 'b', b: 'x' }, { kind: 'missing', id: 'x' }, ['a', 'b']],
    ['the wrong case', { a: 'B', b: '' }, { kind: 'missing', id: 'B' }, ['a']],
  ] as const)('end at %s', (_name, parents, broken, ids) => {
    const { shelves } = shelf(
      Object.fromEntries(
        Object.entries(parents).map(([id, parent]) => [
          `th-${id}`,
          { 'sheet.css': sheet(id, parent === '' ? '' : `parent: th-${parent}\n`) },
        ]),
      ),
    );
    const { chain } = open(shelves, 'th-a');
    expect(chain.broken).toMatchObject({ ...broken, id: `th-${broken.id}` });
    expect(chain.themes.map((theme) => theme.names.id)).toEqual(ids.map((id) => `th-${id}`));
  });

  it.each([
    ['none', ['leaf']],
    ['parent', ['leaf', 'middle']],
    ['chain', ['leaf', 'middle', 'root']],
  ] as const)('of the kind “%s” are as long as the host follows them', (kind, ids) => {
    const platform = { ...vereda, contract: { ...vereda.contract, inheritance: { ...vereda.contract.inheritance, kind } } };
    const themes = {
      root: { 'sheet.css': sheet('Root') },
      middle: { 'sheet.css': sheet('Middle', 'parent: root\n') },
      leaf: { 'sheet.css': sheet('Leaf', 'parent: middle\n') },
    };
    expect(open(shelf(themes, platform).shelves, 'leaf').chain.themes.map((theme) => theme.names.id)).toEqual(ids);
  });

  it('take in shared files, and what ends every chain', () => {
    const layer = (title: string, more = '') => ({
      'layer.mjs': `export default { title: '${title}', version: '1.0.0', hosts: '>=5'${more} };\n`,
    });
    const { shelves } = shelf(
      {
        'layers/ground': layer('Ground'),
        'layers/albar': layer('Albar', ", commons: ['ropes']"),
        'commons/ropes': { 'templates/knot.html': 'knot' },
      },
      platformNamed('estrato'),
    );
    const { chain } = open(shelves, 'albar');
    expect(chain.themes.map((theme) => theme.names.id)).toEqual(['albar', 'ropes', 'ground']);
    expect(findInChain(chain, 'templates/knot.html')?.theme.names.id).toBe('ropes');
    expect(chain.broken).toBeUndefined();
  });

  it('tell parents of one id apart by their vendor', () => {
    const theme = (v: string, follows = '') => ({
      'theme.tramo.xml': `<theme xmlns="urn:tramo:theme:1"><title>${v}</title><version>1.0.0</version><hosts>&gt;=1</hosts>${follows}</theme>`,
    });
    const { shelves } = shelf(
      {
        'Wardens/albar': theme('Wardens'),
        'Climbers/albar': theme('Climbers'),
        'Wardens/paso': theme('Paso', '<follows vendor="Climbers" id="albar"/>'),
      },
      platformNamed('tramo'),
    );
    expect(open(shelves, 'paso').chain.themes.map((each) => each.names)).toMatchObject([
      { id: 'paso' },
      { id: 'albar', vendor: 'Climbers' },
    ]);
  });

  it('do without the parents that every host brings', () => {
    const { shelves } = shelf(
      { albar: { 'index.theme': '[Icon Theme]\nName=Albar\nComment=x\nInherits=hicolor\nDirectories=\n' } },
      platformNamed('icons'),
    );
    const { theme, chain } = open(shelves, 'albar');
    expect([theme.isChild, theme.parents, chain.broken]).toEqual([false, ['hicolor'], undefined]);
  });
});

describe('opening a theme', () => {
  it('looks for its configuration upwards', () => {
    const place = new Workplace();
    writeFiles(place.folder, {
      'pionero.yaml': 'platform: vereda\nshelves: [shelf]\nrules: { image/missing: off }\n',
      'themes/paso/sheet.css': sheet('Paso'),
      'themes/paso/main.html': 'x',
    });
    mkdirSync(place.path('shelf'));
    const opened = openThemeFolder(place.path('themes/paso'), AT_ROOT);
    expect(opened.configuration).toMatchObject({ file: place.path('pionero.yaml'), rules: { 'image/missing': 'off' } });
    expect(opened.shelves.folders).toEqual([place.path('shelf'), place.path('themes')]);
  });

  it.each([
    ['rules: { image/missing: of }', /“rules\.image\/missing” must be one of "error", "warning", "note", "off"/],
    ['shelfs: []', /“shelfs” is not known here; did you mean “shelves”/],
    ['pack: { exclude: x }', /“pack\.exclude” is wrong: expected a list, received a text/],
    ['a: b: c', /its YAML cannot be read|Nested mappings/i],
  ])('refuses the configuration %s', (text, says) => {
    const place = new Workplace();
    writeFiles(place.folder, { 'pionero.yaml': `${text}\n` });
    const error = (() => {
      try {
        return findConfiguration(place.folder);
      } catch (caught) {
        return caught;
      }
    })();
    expect(error).toBeInstanceOf(ConfigurationError);
    const [problem] = (error as ConfigurationError).problems;
    expect([problem?.line, `${(error as Error).message} ${problem?.message}`]).toEqual([1, expect.stringMatching(says)]);
  });

  it('offers the nearest platform', () => {
    expect(() => choosePlatform('cordado', AT_ROOT)).toThrow(UsageError);
    expect(choosePlatform('cordada', AT_ROOT).contract.title).toBe('Cordada');
  });
});

describe('references', () => {
  it.each([
    ['a { background: url(x.png) }', ['x.png']],
    ['a { background: url( "x y.png" ), url(\'z.png\') }', ['x y.png', 'z.png']],
    ['@import "a.css"; @import url(b.css) screen;', ['a.css', 'b.css']],
    ['a { background: image-set("x.png" 1x, url(y.png) 2x) }', ['x.png', 'y.png']],
    ['@font-face { src: url("f.woff2") format("woff2") }', ['f.woff2']],
    ['/* url(no.png) */ a { content: "url(no.png)" }', []],
    [
      'a { background: IMAGE-SET(url("a(1).png") type("image/png") 1x, "b.png" 2x), url(data:image/png;base64,A/*) }',
      ['b.png', 'a(1).png', 'data:image/png;base64,A/*'],
    ],
    ['@import "a.css" supports(display: grid) ; /* @import "no.css" */ b { background: myurl(no.png) }', ['a.css']],
    [`a { content: 'it\\'s url(no.png)'; background: url(\n  "x.png"\n) }`, ['x.png']],
    ['a { background: url(open.png', []],
    ['a {', []],
  ])('in %s', (css, targets) => {
    const found = findSheetReferences(css);
    expect(found.map((reference) => reference.target)).toEqual(targets);
    for (const { start, end, target } of found) expect(css.slice(start, end)).toBe(target);
  });

  it.each([
    ['<img src="a.png"><img src=b.png><img src=\'c.png\'>', ['a.png', 'b.png', 'c.png']],
    ['<link href="a.css"><a href="page"></a>', ['a.css']],
    ['<img srcset="a.png 1x, b.png 2x">', ['a.png', 'b.png']],
    ['<p style="background: url(a.png)">', ['a.png']],
    ['<img src="{{{theme.path}}}/a.png" alt="{{x}}">', ['{{{theme.path}}}/a.png']],
    ['<!-- <img src="no.png"> -->', []],
    ['<video poster="a.jpg"><use xlink:href="#x">', ['a.jpg', '#x']],
  ])('in %s', (html, targets) => {
    const found = findMarkupReferences(html);
    expect(found.map((reference) => reference.target)).toEqual(targets);
    for (const { start, end, target } of found) expect(html.slice(start, end)).toBe(target);
  });
});

describe('facts', () => {
  const theme = (readme = '<!--\nVersion: 1.2.0\n-->\n') =>
    themeOf(vereda, 'paso', { 'sheet.css': sheet('Paso', 'tags: [one, two]\n'), 'README.md': readme });
  const change = (fact: string, value: string, op: FactChange['op'] = 'set'): FactChange => ({ fact, op, value });

  it('are set in every document that states them, and nowhere else', () => {
    const changed = setFacts(theme(), [change('version', '2.0.0'), change('title', 'A: b')]);
    expect(changed.source('sheet.css')?.text).toBe(sheet('"A: b"', 'tags: [one, two]\n').replace('1.0.0', '2.0.0'));
    expect(changed.source('README.md')?.text).toBe('<!--\nVersion: 2.0.0\n-->\n');
    expect(setFacts(theme('# Paso\n'), [change('version', '2.0.0')]).source('README.md')?.text).toBe('# Paso\n');
  });

  it.each<[FactChange, string]>([
    [change('tags', 'three', 'add'), 'tags: [one, two, three]'],
    [change('tags', 'one', 'remove'), 'tags: [two]'],
    [change('tags', 'one', 'add'), 'tags: [one, two]'],
    [change('summary', 'New'), 'hosts: ">=2"\nsummary: New\ntags'],
  ])('%j', (given, wanted) => {
    expect(setFacts(theme(), [given]).source('sheet.css')?.text).toContain(wanted);
  });

  it.each<[FactChange, RegExp]>([
    [change('title', 'x', 'add'), /is not a list/],
    [change('id', 'x'), /has no fact “id”/],
    [change('parentStyles', 'after'), /cannot be the parentStyles/],
    [change('title', 'x'.repeat(61)), /cannot be the title/],
  ])('%j is refused', (given, says) => {
    const set = () => setFacts(theme(), [given]);
    expect(set).toThrow(UsageError);
    expect(set).toThrow(says);
  });

  it('that disagree follow the newest version, or the file that is named', () => {
    expect(findDisagreements(theme())).toEqual([
      {
        fact: 'version',
        says: [
          { file: 'sheet.css', value: '1.0.0' },
          { file: 'README.md', value: '1.2.0' },
        ],
        chosen: '1.2.0',
      },
    ]);
    expect(findDisagreements(theme(), 'sheet.css')[0]?.chosen).toBe('1.0.0');
    expect(findDisagreements(syncFacts(theme(), findDisagreements(theme())))).toEqual([]);
    expect(() => findDisagreements(theme(), 'nothing.md')).toThrow(UsageError);
  });

  it('raise the serial number with the version, or alone', () => {
    const look = themeOf(platformNamed('horquilla'), 'paso', {
      'about.php': "<?php\nreturn ['component' => 'look:paso', 'title' => 'Paso', 'serial' => 41, 'hosts' => '>=5'];\n",
    });
    expect(bumpVersion(look, 'minor', '2026-06-12').theme.source('about.php')?.text).toContain("'serial' => 42,");
    expect(bumpVersion(theme('# x\n'), 'patch', '2026-06-12').theme.text('version')).toBe('1.0.1');
    expect(() => bumpVersion(themeOf(vereda, 'paso', { 'sheet.css': '/*---\ntitle: x\n---*/' }), 'minor', '2026-06-12')).toThrow(
      UsageError,
    );
  });

  it.each<[what: string, changelog: string, wanted: string]>([
    ['marks', '# Changes\n\n## 1.0.0\n\n- A door.\n', '# Changes\n\n## 1.1.0\n\n## 1.0.0\n\n- A door.\n'],
    ['brackets and a date', '## [1.0.0] - 2026-01-02\n- x\n', '## [1.1.0] - 2026-06-12\n\n## [1.0.0] - 2026-01-02\n- x\n'],
    ['signs around it', '= 1.0.0 =\n* x\n', '= 1.1.0 =\n\n= 1.0.0 =\n* x\n'],
    [
      'a line under it',
      'v1.0.0 (2026-01-02)\n-------------------\n',
      'v1.1.0 (2026-06-12)\n-------------------\n\nv1.0.0 (2026-01-02)\n-------------------\n',
    ],
    ['what is not released yet', '# News\n\n## Unreleased\n- y\n\n## 1.0.0\n- x\n', '# News\n\n## 1.1.0\n- y\n\n## 1.0.0\n- x\n'],
    ['that with a line under it', 'Unreleased\n==========\n- y\n\n1.0.0\n=====\n', '1.1.0\n=====\n- y\n\n1.0.0\n=====\n'],
    [
      'prose that begins with the word',
      'Unreleased work is elsewhere.\n\n## 1.0.0\n',
      'Unreleased work is elsewhere.\n\n## 1.1.0\n\n## 1.0.0\n',
    ],
    ['brackets, not released yet, on Windows', '## [Unreleased]\r\n- y\r\n\r\n## [1.0.0]\r\n', '## [1.1.0]\r\n- y\r\n\r\n## [1.0.0]\r\n'],
    ['two numbers', '## 1.0\n', '## 1.1.0\n\n## 1.0\n'],
    ['line ends of Windows', '## 1.0.0\r\n- x\r\n', '## 1.1.0\r\n\r\n## 1.0.0\r\n- x\r\n'],
    ['another version at its head', '## 3.0.0\n', '## 3.0.0\n'],
    ['no version', 'Nothing yet.\n', 'Nothing yet.\n'],
  ])('give a raised version its heading, written like the one before: %s', (_what, changelog, wanted) => {
    const before = themeOf(vereda, 'paso', { 'sheet.css': '/*---\ntitle: x\nversion: 1.0.0\n---*/\n', 'CHANGELOG.md': changelog });
    expect(bumpVersion(before, 'minor', '2026-06-12').theme.source('CHANGELOG.md')?.text).toBe(wanted);
  });
});

describe('a rehearsal', () => {
  const applying = () => ({ journal: new Journal(new Workplace().path('.journal')), now: 1 });
  const perform = (files: Record<string, string>) =>
    rehearse({
      platform: vereda,
      tree: MemoryTree.of(files),
      names: { id: 'paso' },
      shelves: new Shelves(vereda, []),
      applying: applying(),
    });

  it('shows each page with the template that serves it', async () => {
    const result = await perform({
      'sheet.css': sheet('Paso'),
      'main.html': '<p>{{page.title}}</p>',
      'pages/list.html': '{{> item}}',
      'partials/item.html': '{{#entries}}{{title}};{{/entries}}',
    });
    expect(result).toMatchObject({ recognised: true, reasons: [], chain: ['paso'], sheets: ['themes/paso/sheet.css'] });
    const page = (role: string) => result.pages.find((each) => each.role === role);
    expect(page('search')).toMatchObject({ template: 'pages/list.html', from: 'paso' });
    expect(page('list')?.html).toContain('New roof for Lumbre;');
    expect(page('entry')?.html).toBe('<p>The Cierzo hut opens on 12 June</p>');
  });

  it.each<[string, Record<string, string>, string]>([
    ['no header', { 'sheet.css': '', 'main.html': 'x' }, 'document/syntax'],
    ['no title', { 'sheet.css': sheet('Paso').replace('title: Paso\n', ''), 'main.html': 'x' }, 'field/missing'],
    ['no template', { 'sheet.css': sheet('Paso') }, 'file/missing'],
    ['no parent', { 'sheet.css': sheet('Paso', 'parent: albar\nparent-sheet: before\n') }, 'parent/missing'],
  ])('of a theme with %s says why it is not recognized', async (_name, files, rule) => {
    const result = await perform(files);
    expect([result.recognised, result.reasons.map((reason) => reason.rule), result.pages]).toEqual([
      false,
      expect.arrayContaining([rule]),
      [],
    ]);
  });

  it('goes on when one page cannot be shown', async () => {
    const result = await perform({ 'sheet.css': sheet('Paso'), 'main.html': 'x', 'pages/entry.html': '{{#open}}' });
    expect(result.pages.find((page) => page.role === 'entry')?.problem).toMatch(/Unclosed section/);
    expect(result.pages.find((page) => page.role === 'front')?.problem).toBeUndefined();
  });

  it('keeps nothing of its own', async () => {
    const theme = new Theme(vereda, MemoryTree.of({ 'sheet.css': sheet('Paso'), 'main.html': 'x' }), { id: 'paso' }, 'paso');
    let folder = '';
    await rehearse({
      platform: vereda,
      tree: theme.tree,
      names: theme.names,
      shelves: new Shelves(vereda, []),
      applying: applying(),
      keep: async (host) => void (folder = host.folder),
    });
    expect(new DiskTree(folder).unlisted).toHaveLength(1);
  });
});

it.each([
  ['huts/ridge.pgn', 'huts/ridge.png'],
  ['huts/ridg.png', 'huts/ridge.png'],
  ['huts/ridge.gif', 'huts/ridge.png'],
  ['huts/ridges.css', 'huts/ridge.css'],
  ['huts/ridge.js', undefined],
])('a wrong path means a file of its kind: %s', (wrong, meant) => {
  const files = { 'huts/ridge.png': 'x', 'huts/ridge.css': 'x', 'main.html': 'x' };
  expect(new FileNames(themeOf(platformNamed('vereda'), 'cierzo', files)).near(wrong)).toBe(meant);
});

it('what is known of shelves does not grow with their number, and the last ones are kept', () => {
  const known = new Map<string, Shelves>();
  const platform = platformNamed('vereda');
  const at = (i: number): Shelves => sharedShelves(platform, [`/huts/shelf-${i}`], { currentFolder: '/huts', known });
  const first = at(0);
  for (let i = 1; i < 100; i++) expect([at(0) === first, at(i) === at(i)]).toEqual([true, true]);
  expect(known.size).toBeLessThan(30);
  const second = at(1);
  expect([at(1) === second, at(98) === at(98)]).toEqual([true, true]);
});

it('a folder of packages is not a theme, and the message names them', () => {
  const place = new Workplace();
  writeFiles(place.path('dist'), { 'albar.zip': 'x', 'CIERZO.TGZ': 'x', 'listing.md': 'x', 'more/lumbre.zip': 'x' });
  expect(() => openThemeFolder('dist', { currentFolder: place.folder })).toThrow(
    expect.objectContaining({ hint: 'it holds archives; name one of them: dist/CIERZO.TGZ, dist/albar.zip' }) as Error,
  );
});
