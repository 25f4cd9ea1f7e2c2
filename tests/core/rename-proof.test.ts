import { describe, expect, it } from 'vitest';
import { MemoryTree } from '../../src/core/files/memory-tree.ts';
import { misspeltIn } from '../../src/core/names/misspelt.ts';
import { FileView } from '../../src/core/rename/mention.ts';
import { scanForLeftovers } from '../../src/core/rename/second-scan.ts';
import { structureProblems } from '../../src/core/rename/structure.ts';
import { applyEdits } from '../../src/core/text/edits.ts';
import { EncodedSieve } from '../../src/core/text/escapes.ts';
import { SourceDocument } from '../../src/core/text/source-document.ts';
import { findZones } from '../../src/core/text/zones.ts';
import { matchingFor, named, rename } from '../support/renaming.ts';

describe('the second scan decodes before it looks', () => {
  const left = (file: string, text: string, id = 'norte-cima') =>
    scanForLeftovers(MemoryTree.of({ [file]: text }), named(id), named('alto-valle'), []).map(({ line, column }) => `${line}:${column}`);

  it.each([
    ['a.html', 'x Norte&nbsp;Cima', '1:3'],
    ['a.html', 'x Norte&#160;Cima', '1:3'],
    ['a.html', 'x &#78;orte Cima', '1:3'],
    ['a.md', 'x Norte\u00a0Cima', '1:3'],
    ['a.md', 'x Norte\u2011Cima', '1:3'],
    ['a.md', 'x Norte  Cima', '1:3'],
    ['a.md', 'x\nto Norte\nCima', '2:4'],
    ['a.js', '// to Norte\n// Cima', '1:7'],
    ['a.js', 'x("norte%20cima")', '1:4'],
    ['a.js', 'x("norte+cima")', '1:4'],
    ['a.js', 'x("\\u006eorte-cima")', '1:4'],
    ['a.js', 'x("\\x6eorte-cima")', '1:4'],
    ['a.css', '.norte\\-cima { }', '1:2'],
    ['a.css', 'x { content: "norte\\20 cima" }', '1:15'],
    ['a.md', 'x nor\u00adte-cima', '1:3'],
  ])('in %s: %s', (file, text, place) => {
    expect(left(file, text)).toEqual([place]);
  });

  it('a letter with its mark apart', () => {
    expect(left('a.md', 'x pen\u0303a', 'peña')).toEqual(['1:3']);
  });

  it.each([
    ['a.js', 'norte();\ncima();'],
    ['a.yaml', '- norte\n- cima'],
    ['a.md', 'To the norte.\n\nCima is a word.'],
    ['a.html', 'norte &amp; cima'],
    ['a.md', 'the north, cima'],
    ['a.js', 'const x = norte+cima;'],
  ])('and takes nothing in %s for the name: %s', (file, text) => {
    expect(left(file, text)).toEqual([]);
  });

  it('its sieve lets through what may be encoded, and is quick where nothing is', () => {
    const sieve = new EncodedSieve(['norte', 'cima']);
    const texts = ['nor&shy;te', '\\x6e\\x6f\\x72', 'Nor\xc3\xa9e', 'norte  cima', 'norte\n * cima', '&#110;&#111;&#114;', 'n%6frte'];
    expect(texts.filter((text) => !sieve.test(text))).toEqual([]);
    expect(['the north', 'norte-cima', 'rte & co', 'ima \\ x'].filter((text) => sieve.test(text))).toEqual([]);
    const bytes = Array.from({ length: 400_000 }, (_, i) => String.fromCharCode(128 + ((i * 7919) % 128))).join('');
    const start = performance.now();
    sieve.test(bytes);
    expect(performance.now() - start).toBeLessThan(1000);
  });
});

describe('a changed text is made of the same tokens', () => {
  it.each<[file: string, marked: string, written: string, isSame: boolean]>([
    ['a.php', '<?php function «albar»_x() {}', 'cumbre_sur', true],
    ['a.php', '<?php function «albar»_x() {}', 'cumbre sur', false],
    ['a.php', '<?php function «albar»_x() {}', 'cumbre-sur', false],
    ['a.php', '<?php $«albar» = 1;', '2paso', false],
    ['a.js', 'const «albar» = 1;', 'class', false],
    ['a.js', 'x("«albar»");', 'a"b', false],
    ['a.js', 'x("«albar»");', 'Cumbre Sur', true],
    ['a.js', '// «albar»', 'Cumbre Sur', true],
    ['a.css', '.«albar»-x { }', 'cumbre-sur', true],
    ['a.css', '.«albar» { }', 'cumbre sur', false],
    ['a.css', '/* «albar» */', 'a */ b', false],
    ['a.html', '<p>«albar»</p>', 'a < b', false],
    ['a.html', '<p>«albar»</p>', 'Cumbre Sur', true],
    ['a.jsx', 'const A = () => <B>«Albar»</B>;', 'Cumbre Sur', true],
    ['a.json', '{ "a": "«albar»" }', 'a\\"b', true],
    ['a.json', '{ "a": "«albar»" }', 'a", "b": "c', false],
    ['a.json', '{ "«albar»": 1, "paso": 2 }', 'paso', false],
    ['a.yaml', 'a: «albar»\n', 'x: y', false],
    ['a.toml', 'a = "«albar»"\n', 'x"', false],
    // What could not be read before is not asked for more.
    ['a.json', '{ "a": "«albar»" ', 'a", "b": "c', true],
  ])('%s: %s becomes %s', (file, marked, written, isSame) => {
    const start = marked.indexOf('«');
    const text = marked.replace(/[«»]/g, '');
    const source = SourceDocument.decode(file, Buffer.from(text));
    if (source === undefined) throw new Error('no text');
    const edit = { start, end: marked.indexOf('»') - 1, text: written };
    expect(structureProblems(new FileView(source, text, matchingFor()), [edit])).toHaveLength(isSame ? 0 : 1);
  });
});

describe('what belongs together stays together', () => {
  const files = {
    'a.php': '<?php\nfunction albar_menu() {}\nalbar_menu();\n$x = "albar_" . $y;\n',
    'a.html': '<img src="img/albar-hut.png">\n',
    'img/albar-hut.png': '',
    'js/albar-url.js': '',
    'js/menu.js': "require('./albar-url');\n",
  };
  it.each<[what: string, decisions: Record<string, string | null>, said: RegExp]>([
    ['nothing else', {}, /^$/],
    ['a use by another name', { 'a.php:3:1': 'paso' }, /“albar_menu” would be paso_menu here, and cumbre_sur_menu in a\.php:2:10/],
    ['a prefix by another name', { 'a.php:4:7': 'paso' }, /“albar_” would be paso_ here, and no longer begin .*: cumbre_sur_menu/],
    [
      'an address that leads nowhere',
      { 'a.html:1:15': 'gone' },
      /“img\/gone-hut\.png” would lead nowhere: img\/albar-hut\.png is called img\/cumbre-sur-hut\.png/,
    ],
    [
      'a path without its ending',
      { 'js/menu.js:1:12': 'gone' },
      /“\.\/gone-url” would lead nowhere: js\/albar-url\.js is called js\/cumbre-sur-url\.js/,
    ],
    [
      'a file that keeps its name',
      { 'js/albar-url.js:0:0': null, 'js/menu.js:1:12': 'gone' },
      /js\/albar-url\.js is not renamed afterward/,
    ],
  ])('decided: %s', (_what, decisions, said) => {
    const { broken } = rename(files, named('albar'), named('cumbre-sur'), { decisions: new Map(Object.entries(decisions)) });
    expect(broken[0]?.text ?? '').toMatch(said);
  });

  it.each(['https://huts.example/hut-albar.git', 'git@huts.example:huts/hut-albar.git'])(
    'but for an address in a command: %s',
    (address) => {
      const text = `\`\`\`sh\ngit clone ${address}\nnpm install hut-albar\n\`\`\`\n`;
      const { tree, broken } = rename({ 'a.md': text }, named('albar'), named('cumbre-sur'));
      expect([tree.read('a.md').toString(), broken]).toEqual([text.replace('install hut-albar', 'install hut-cumbre-sur'), []]);
    },
  );

  it('also where a vendor, or the parent of another vendor, is called like the theme', () => {
    const theme = '<theme><title>Quilla</title><follows vendor="Otra" id="quilla"/></theme>\n';
    const parts = { 'theme.tramo.xml': theme, 'enrol.php': "<?php\n\\Tramo\\Enrol::theme('site/Quilla/quilla', __DIR__);\n" };
    const own = { ...named('quilla'), vendor: 'Quilla' };
    const { tree, leftovers } = rename(parts, own, { ...named('lumbre'), vendor: 'Quilla' }, { platform: 'tramo' });
    expect(tree.read('enrol.php').toString()).toContain("'site/Quilla/lumbre'");
    expect(tree.read('theme.tramo.xml').toString()).toBe(theme.replace('>Quilla<', '>Lumbre<'));
    expect(leftovers).toEqual([]);
  });
});

it.each([
  ['a.php', '<?php function cumbre-sur_setup() {}', '<?php function cumbre_sur_setup() {}'],
  ['a.php', '<?php class Cumbre Sur {} new Cumbre Sur();', '<?php class CumbreSur {} new CumbreSur();'],
  ['a.php', '<?php const CUMBRE-SUR_X = 1; $cumbre-sur->x;', '<?php const CUMBRE_SUR_X = 1; $cumbre_sur->x;'],
  ['a.php', '<?php class Cumbre Sur_Walker {}', '<?php class Cumbre_Sur_Walker {}'],
  ['a.js', 'function cumbre-surSetup() {} const cumbre-sur = 1;', 'function cumbreSurSetup() {} const cumbreSur = 1;'],
  ['a.py', 'import cumbre-sur\ndef cumbre-sur_x(): pass', 'import cumbre_sur\ndef cumbre_sur_x(): pass'],
  // Right where it stands.
  ['a.php', '<?php f("cumbre-sur", "Cumbre Sur"); // Cumbre Sur', ''],
  ['a.js', 'const x = cumbre - sur;', ''],
  ['a.css', '.cumbre-sur-x { }', ''],
  ['a.md', 'function cumbre-sur_setup()', ''],
])('a misspelt name in %s is mended: %s', (file, text, mended) => {
  expect(applyEdits(text, misspeltIn(text, findZones(file, text), 'cumbre-sur'))).toBe(mended === '' ? text : mended);
});
