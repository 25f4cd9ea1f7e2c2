import { XmlElement, XmlText, parseXml } from '@rgrove/parse-xml';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parse as parseYaml } from 'yaml';
import { findEntry, plainValue, type Syntax, type ValueNode, type WritableValue } from '../../src/core/documents/syntax.ts';
import { findSyntax, syntaxNames } from '../../src/core/documents/syntaxes.ts';
import { problemOfCode } from '../../src/core/documents/code-problems.ts';
import { readPlainLines } from '../../src/core/documents/yaml-lines.ts';
import { applyEdits } from '../../src/core/text/edits.ts';

/** A document of each syntax with a title in its middle, a list where the syntax has lists, and things to be left alone. */
interface Sample {
  readonly text: string;
  readonly options?: Record<string, unknown>;
  readonly title: readonly string[];
  readonly list?: readonly string[];
  /** A field that is not there, and its place among the others. */
  readonly missing: readonly string[];
  readonly order: readonly (readonly string[])[];
  /** Values that the syntax has no way to write. */
  readonly cannot?: RegExp;
  /** What is no document, with the line of the finding. */
  readonly broken: readonly (readonly [text: string, line: number])[];
}

const SAMPLES: Record<string, Sample> = {
  yaml: {
    text: '# first\ntitle: Old # said so\ntags:\n  - one # 1\n  - "two"\nhosts: ">=2"\n',
    title: ['title'],
    list: ['tags'],
    missing: ['version'],
    order: [['title'], ['version'], ['tags']],
    broken: [
      ['title: a: b\n', 1],
      ['a: 1\na: 2\n', 2],
      ['a: "x\n', 1],
      ['a: &x 1\nb: *x\n', 2],
      ['__proto__: 1\n', 1],
      ['- a\n', 1],
    ],
  },
  'comment-header': {
    text: '/*---\n# first\ntitle: Old # said so\ntags: [one, "two"]\n---*/\n.x { color: red }\n',
    title: ['title'],
    list: ['tags'],
    missing: ['version'],
    order: [['title'], ['version'], ['tags']],
    broken: [
      ['.x {}', 1],
      ['.x {}\n/*---\na: 1\n---*/', 2],
      ['/*---\na: 1\n', 1],
      ['/*---\na: 1\na: 2\n---*/', 3],
    ],
  },
  'header-lines': {
    text: '<?php\n/**\n * A theme.\n *\n * Title:   Old\n * Hosts: >=2\n */\nx();\n',
    title: ['Title'],
    missing: ['Version'],
    order: [['Title'], ['Version'], ['Hosts']],
    cannot: /[\r\n\t]|^\s|\s$|\*\/|-->/,
    broken: [
      ['x();', 1],
      ['\n/* Title: a\n', 2],
    ],
  },
  'comment-tags': {
    text: '/*\n * The theme.\n *\n * @title Old\n * @size one\n * @size two\n */\nsection { color: red }\n/*! @kit  bag */\n',
    options: { repeated: ['size'] },
    title: ['title'],
    missing: ['version'],
    order: [['title'], ['version'], ['kit']],
    cannot: /[\r\n]|^\s|\s$|\*\//,
    broken: [
      ['a { }', 1],
      ['a { }\n/* @title a\n', 2],
      ['/* @title a\n@title b */', 2],
    ],
  },
  'at-rules': {
    text: '/* first { */\n@charset "utf-8";\n@import url("a.css") print;\n@import \'Old\'; /* said so */\n\na { b: "@import" }\n',
    title: ['@import'],
    missing: ['@layer'],
    order: [['@import'], ['@layer']],
    cannot: /[\r\n\f]|^(?:[a-z][a-z0-9+.-]*:|\/)/i,
    broken: [
      ['a { }\n@import "b";', 2],
      ['@media print {\n}\n@import "b";', 3],
      ['\n@import b;', 2],
    ],
  },
  json: {
    options: { lenient: true },
    text: '{\n  // first\n  "title": "Old", /* said so */\n  "tags": ["one", "two"],\n  "hosts": ">=2"\n}\n',
    title: ['title'],
    list: ['tags'],
    missing: ['version'],
    order: [['title'], ['version'], ['tags']],
    broken: [
      ['{\n"a": }', 2],
      ['{"a":1,\n"a":2}', 2],
      ['[1]', 1],
      ['['.repeat(100_000), 1],
      ['', 1],
    ],
  },
  toml: {
    text: '# first\ntitle = "Old" # said so\ntags = [ "one", \'two\' ]\n\n[pages]\nindex = "Home"\n',
    title: ['title'],
    list: ['tags'],
    missing: ['version'],
    order: [['title'], ['version'], ['tags']],
    broken: [
      ['a = 1\nb = \n', 2],
      ['a = 1\na = 2', 2],
      ['a = "x', 1],
    ],
  },
  ini: {
    text: '; first\n[Icon Theme]\nName=Old\nName[es]=Viejo\n\n[16x16/apps]\nSize=16\n',
    title: ['Icon Theme', 'Name'],
    missing: ['Icon Theme', 'Comment'],
    order: [
      ['Icon Theme', 'Name'],
      ['Icon Theme', 'Comment'],
    ],
    broken: [
      ['[a]\nb\n', 2],
      ['[a]\nb=1\nb=2', 3],
      ['[a]\n[a]', 2],
    ],
  },
  'key-value': {
    text: '# first\ntitle  Old\nhosts \t>=2\nkit\n',
    title: ['title'],
    missing: ['version'],
    order: [['title'], ['version'], ['hosts']],
    cannot: /[\r\n]|^\s|\s$/,
    broken: [['a 1\na 2\n', 2]],
  },
  xml: {
    text: '<?xml version="1.0"?>\n<!-- first -->\n<theme xmlns="urn:x:1">\n  <title>Old</title><!-- said so -->\n  <hosts>&gt;=2</hosts>\n  <follows vendor=\'Albar\' id="paso"/>\n</theme>\n',
    title: ['title'],
    missing: ['version'],
    order: [['title'], ['version'], ['hosts']],
    broken: [
      ['<a>\n<b></a>', 2],
      ['<a', 1],
      ['<!DOCTYPE a [\n<!ENTITY x SYSTEM "file:///etc/passwd">]><a>&x;</a>', 2],
      ['', 1],
    ],
  },
  po: {
    text: '# first\nmsgid ""\nmsgstr ""\n"Project-Id-Version: Old\\n"\n"Language: es\\n"\n\nmsgid "Old"\nmsgstr "Viejo"\n',
    title: ['Project-Id-Version'],
    missing: ['Language-Team'],
    order: [['Project-Id-Version'], ['Language-Team'], ['Language']],
    cannot: /^ /,
    broken: [
      ['msgid "a"\nmsgstr "b"\n', 1],
      ['msgid ""\nmsgstr ""\n"nothing\\n"\n', 3],
    ],
  },
  php: {
    text: "<p>x</p>\n<?php // first\nreturn [\n    'title' => 'Old', // said so\n    \"tags\" => array('one', \"two\"),\n    'serial' => 41,\n    'now' => time(),\n];\n",
    options: { at: 'return' },
    title: ['title'],
    list: ['tags'],
    missing: ['version'],
    order: [['title'], ['version'], ['tags']],
    broken: [
      ['<?php\nreturn [;\n', 2],
      ['<?php $x = 1;', 1],
      ["<?php return ['a' => 1,\n'a' => 2];", 2],
    ],
  },
  javascript: {
    text: "// first\nexport default {\n  title: 'Old', // said so\n  tags: ['one', \"two\"],\n  now: Date.now(),\n};\n",
    title: ['title'],
    list: ['tags'],
    missing: ['version'],
    order: [['title'], ['version'], ['tags']],
    broken: [
      ['export default {\n  a: ,\n}', 2],
      ['const a = 1;', 1],
      ['export default { a: 1,\n a: 2 }', 2],
      [`export default ${'['.repeat(20_000)}`, 1],
    ],
  },
};

const AWKWARD = [
  'no',
  '1.10',
  'a: b',
  '- x',
  '"q"',
  "it's",
  'a & b',
  '<b>',
  'two\nlines',
  '*/',
  '---*/',
  '#x',
  ' lead',
  'trail ',
  '{x}',
  '@',
  '~',
  'null',
  '0x1',
  'ñandú',
  '\\',
  '\\n',
  '%',
  '!x',
  '|',
  'x #y',
  '$x',
  '${x}',
  '`',
  ']]>',
  '</script>',
  'Rock & Ice: "North" <Face>',
];
const value = fc.oneof(
  fc.constantFrom(...AWKWARD),
  fc.string({ unit: 'grapheme', minLength: 1, maxLength: 20 }).filter((text) => !/[\p{C}\u2028\u2029\p{Zs}]/u.test(text)),
);

it('has a sample of every syntax', () => {
  expect(Object.keys(SAMPLES).sort()).toEqual(syntaxNames().sort());
});

describe.each(Object.entries(SAMPLES))('%s', (name, sample) => {
  const syntax = findSyntax(name) as Syntax;
  const options = sample.options ?? {};
  const context = { options, order: sample.order };
  const read = (text: string, path: readonly string[]) => {
    const entry = findEntry(syntax.read(text, options).root, path);
    return entry === undefined ? undefined : plainValue(entry.value);
  };
  const withEnd = (end: string) => sample.text.replaceAll('\n', end);
  const ends = fc.constantFrom('\n', '\r\n');
  const able = value.filter((text) => sample.cannot?.test(text) !== true);

  it('reads back what it wrote, and changes no byte outside the value', () => {
    fc.assert(
      fc.property(able, ends, (wanted, end) => {
        const text = withEnd(end);
        const before = findEntry(syntax.read(text, options).root, sample.title)?.value ?? { start: 0, end: 0 };
        const edits = syntax.set(text, sample.title, wanted, context);
        const written = applyEdits(text, edits);
        expect(syntax.read(written, options).problems).toEqual([]);
        expect(read(written, sample.title)).toBe(wanted);
        for (const edit of edits) expect(edit.start >= before.start && edit.end <= before.end).toBe(true);
      }),
    );
  });

  it('changes nothing when it writes what it read', () => {
    for (const path of [sample.title, ...(sample.list === undefined ? [] : [sample.list])]) {
      expect(syntax.set(sample.text, path, read(sample.text, path) as string, context)).toEqual([]);
    }
  });

  it('adds a field in its place, and takes it out without a scar', () => {
    fc.assert(
      fc.property(able, ends, (wanted, end) => {
        const text = withEnd(end);
        const added = applyEdits(text, syntax.set(text, sample.missing, wanted, context));
        expect(syntax.read(added, options).problems).toEqual([]);
        expect(read(added, sample.missing)).toBe(wanted);
        const { root } = syntax.read(added, options);
        expect(findEntry(root, sample.missing)?.keyStart).toBeGreaterThan(findEntry(root, sample.title)?.value.end ?? Infinity);
        const lines = added.split(end);
        expect(lines.length).toBeGreaterThan(text.split(end).length);
        expect(applyEdits(added, syntax.remove(added, sample.missing, context))).toBe(text);
      }),
    );
  });

  it('adds to a list and takes out of it, and leaves the others as they were written', () => {
    if (sample.list === undefined) return;
    const { list } = sample;
    fc.assert(
      fc.property(able, (wanted) => {
        const added = applyEdits(sample.text, syntax.set(sample.text, list, ['one', 'two', wanted], context));
        expect(read(added, list)).toEqual(['one', 'two', wanted]);
        expect(applyEdits(added, syntax.set(added, list, ['one', 'two'], context))).toBe(sample.text);
        const removed = applyEdits(sample.text, syntax.set(sample.text, list, ['two'], context));
        expect(read(removed, list)).toEqual(['two']);
        const empty = applyEdits(removed, syntax.set(removed, list, [], context));
        expect(read(empty, list)).toEqual([]);
        expect(read(applyEdits(empty, syntax.set(empty, list, [wanted], context)), list)).toEqual([wanted]);
      }),
      { numRuns: 30 },
    );
    const swapped = applyEdits(sample.text, syntax.set(sample.text, list, ['two', 'three', 'one'], context));
    expect(read(swapped, list)).toEqual(['two', 'three', 'one']);
  });

  it('gives a key another name', () => {
    const key = `${sample.title.at(-1)}-two`;
    const renamed = applyEdits(sample.text, syntax.renameKey(sample.text, sample.title, key, context));
    expect(read(renamed, [...sample.title.slice(0, -1), key])).toBe('Old');
    expect(syntax.read(renamed, options).problems).toEqual([]);
  });

  it.each(sample.broken)('has a finding with a place for %#', (text, line) => {
    const [problem] = syntax.read(text, options).problems;
    expect(problem?.message).toBeTruthy();
    expect(text.slice(0, problem?.start).split('\n').length).toBe(line);
  });

  it('survives anything, also what is nearly right', () => {
    const noise = fc.string({
      unit: fc.constantFrom(
        'a',
        ':',
        ' ',
        '\n',
        '"',
        "'",
        '-',
        '[',
        ']',
        '{',
        '<',
        '>',
        '/',
        '&',
        '*',
        '|',
        '#',
        '=',
        '\t',
        ',',
        '(',
        '\\',
      ),
    });
    const cut = fc
      .tuple(fc.nat(sample.text.length), fc.nat(sample.text.length), noise)
      .map(([from, to, mid]) => sample.text.slice(0, from) + mid + sample.text.slice(to));
    fc.assert(
      fc.property(fc.oneof(noise, cut, fc.string(), fc.constantFrom('/*', '{#', '<!--', '{{!')), (text) => {
        for (const { start, end } of syntax.read(text, options).problems) expect(start <= end && end <= text.length + 1).toBe(true);
      }),
    );
  });

  it('reads a large file in time', () => {
    const start = performance.now();
    syntax.read(sample.text.replace('Old', 'x'.repeat(2_000_000)), options);
    syntax.read(' '.repeat(500_000) + '['.repeat(1000) + '\n'.repeat(100_000), options);
    expect(performance.now() - start).toBeLessThan(10_000);
  });
});

describe('values that only running code would tell', () => {
  it.each([
    ['php', "<?php return ['a' => 'x' . 'y', 'b' => time(), 'c' => __DIR__ . '/x', 'd' => -4];", 'return'],
    ['javascript', "export default { a: 'x' + 'y', b: time(), c: `${dir}/x`, d: -4 };", 'export default'],
  ])('are unknown in %s, and constants are not', (name, text, at) => {
    const root = findSyntax(name)?.read(text, { at }).root;
    expect(root === undefined ? undefined : plainValue(root)).toEqual({ a: 'xy', b: undefined, c: undefined, d: -4 });
  });

  it.each<[string, string, string, unknown]>([
    ['php', "<?php $theme['x'] = 1; $look = ['a' => 1];", '$look =', { a: 1 }],
    ['php', "<?php \\Tramo\\Enrol::theme('site/A/b', __DIR__);", 'Tramo\\Enrol::theme(1', { value: 'site/A/b' }],
    ['php', "<?php namespace A { look('x', ['a' => true]); }", 'look(2', { a: true }],
    ['php', '<?php return ["a" => "x\\u{f1}\\x41\\$"];', 'return', { a: 'xñA$' }],
    ['javascript', 'module.exports = { a: 1 };', 'module.exports =', { a: 1 }],
    ['javascript', 'const look = { a: [null] }; export default look;', 'export default', { a: [null] }],
    ['javascript', "register('x', { a: 1 })", 'register(2', { a: 1 }],
  ])('%s: %s at %s', (name, text, at, wanted) => {
    const root = findSyntax(name)?.read(text, { at }).root;
    expect(root === undefined ? undefined : plainValue(root)).toEqual(wanted);
  });
});

describe('an independent reader', () => {
  const wanted = value.filter((text) => text !== '');
  it.each<[string, string, (text: string) => unknown]>([
    ['yaml', 'title: x\n', parseYaml],
    ['json', '{"title": 1}', JSON.parse],
  ])('of %s agrees', (name, before, parse) => {
    const syntax = findSyntax(name) as Syntax;
    fc.assert(
      fc.property(wanted, (text) => {
        expect(parse(applyEdits(before, syntax.set(before, ['title'], text, { options: {}, order: [] })))).toEqual({ title: text });
      }),
    );
  });

  it('of XML agrees, for elements and attributes', () => {
    const doc = '<t><title/><p src="x"/></t>';
    const set = (at: string, path: string[], text: string) =>
      applyEdits(at, findSyntax('xml')?.set(at, path, text, { options: {}, order: [] }) ?? []);
    fc.assert(
      fc.property(wanted, (text) => {
        const root = parseXml(set(set(doc, ['title'], text), ['p', '@src'], text)).root;
        const [title, p] = root?.children ?? [];
        expect(title instanceof XmlElement && title.children.map((child) => (child instanceof XmlText ? child.text : '')).join('')).toBe(
          text,
        );
        expect(p instanceof XmlElement && p.attributes['src']).toBe(text);
      }),
    );
  });
});

describe('lines that are read without the parser', () => {
  const yaml = findSyntax('yaml') as Syntax;
  const plain = [
    '"x y"',
    "'x: y'",
    '[a, b]',
    '[a,b-c]',
    'a b.c',
    '1.2.3',
    'http://a/b',
    'é’s, b',
    '',
    'Null',
    '[null]',
    '1.2',
    '1e3',
    'a: b',
  ];
  const signs = [...plain, ':', ': ', '\n', ' ', '#', ' #', '- ', ',', '"', "'", '[', ']', '\t', '\r', '\u00a0', '---', '\n...\n', '\n  b'];
  const odd = fc.array(fc.constantFrom(...signs), { maxLength: 3 }).map((all) => all.join(''));
  const line = fc.tuple(
    fc.constantFrom('title', 'a', 'b-1', 'c', 'd', 'NULL', 'constructor'),
    fc.constantFrom(': ', ':   ', ':', ' : '),
    fc.oneof({ weight: 6, arbitrary: fc.constantFrom(...plain) }, { weight: 1, arbitrary: odd }),
    fc.constantFrom('', '', ' ', '\n', '\n  '),
  );
  const lines = fc.array(line, { minLength: 1, maxLength: 3 }).map((all) => all.map((parts) => parts.join('')).join('\n'));

  it('are what the parser reads', () => {
    let count = 0;
    fc.assert(
      fc.property(lines, (text) => {
        if (readPlainLines(text) === undefined) return;
        count++;
        // A comment at the end changes nothing, and is for the parser.
        expect(yaml.read(text, {})).toEqual(yaml.read(`${text}\n# end\n`, {}));
      }),
      { numRuns: 3000 },
    );
    expect(count).toBeGreaterThan(100);
  });
});

it.each(['+ ', '- ', '!', 'a?b:', 'x=>'])('a script in which “%s” goes deeper than its parser can is not called wrong', (sign) => {
  expect(problemOfCode('deep.mjs', `export let x = ${sign.repeat(30_000)}x;\n`)).toBeUndefined();
});

describe('assignments', () => {
  const options = { at: 'assignments' };
  const php = `<?php\n$theme = 'Albar';\n$conf['a'] = 1; // so\n$conf['s']['t'] = 'x';\n$lang = ['hi' => 'Hola'];\n$lang['bye'] = 'Adiós';\n$conf['a'] = 2;\n$conf[f()] = 3;\n$conf['n'] .= 'y';\nif ($x) { $conf['z'] = 1; }\n`;
  const script = `const theme = 'Albar';\nlook.a = 1;\nlook["s t"].u = 'x';\nlook[f()] = 3;\nlook.n += 'y';\nlet list = ['one'];\n`;

  it.each([
    ['php', php, { $theme: 'Albar', $conf: { a: 2, s: { t: 'x' } }, $lang: { hi: 'Hola', bye: 'Adiós' } }],
    ['javascript', script, { theme: 'Albar', look: { a: 1, 's t': { u: 'x' } }, list: ['one'] }],
  ])('of %s are read statement by statement', (name, text, wanted) => {
    const { root, problems } = findSyntax(name)?.read(text, options) ?? { root: undefined, problems: [] };
    expect([problems, root === undefined ? undefined : plainValue(root)]).toEqual([[], wanted]);
  });

  const edited = (name: string, text: string, op: 'set' | 'remove' | 'rename', path: string[]): string => {
    const syntax = findSyntax(name);
    const context = { options, order: [] };
    const edits =
      op === 'set'
        ? syntax?.set(text, path, 'new', context)
        : op === 'remove'
          ? syntax?.remove(text, path, context)
          : syntax?.renameKey(text, path, 'new', context);
    return applyEdits(text, edits ?? []);
  };

  it.each<[string, string, 'set' | 'remove' | 'rename', string[], string]>([
    ['php', `<?php\n$c['a'] = 1;\n$d['b'] = 2;\n`, 'set', ['$c', 'a'], `<?php\n$c['a'] = 'new';\n$d['b'] = 2;\n`],
    ['php', `<?php\n$c['a'] = 1;\n$d['b'] = 2;\n`, 'set', ['$c', 'x', 'y'], `<?php\n$c['a'] = 1;\n$c['x']['y'] = 'new';\n$d['b'] = 2;\n`],
    ['php', `<?php\n\n?>\n`, 'set', ['$c', 'a'], `<?php\n$c['a'] = 'new';\n\n?>\n`],
    ['php', `<?php\n$c = [\n  'a' => 1,\n];\n`, 'set', ['$c', 'b'], `<?php\n$c = [\n  'a' => 1,\n  'b' => 'new',\n];\n`],
    ['php', `<?php\n$c['a'] = 1; // so\n$c['b'] = 2;\n`, 'remove', ['$c', 'a'], `<?php\n$c['b'] = 2;\n`],
    ['php', `<?php\n$c = ['a' => 1, 'b' => 2];\n`, 'remove', ['$c', 'a'], `<?php\n$c = ['b' => 2];\n`],
    ['php', `<?php\n$c["a"] = 1;\n`, 'rename', ['$c', 'a'], `<?php\n$c['new'] = 1;\n`],
    ['javascript', `a.b = 1;\n`, 'set', ['a', 'c d'], `a.b = 1;\na['c d'] = 'new';\n`],
    ['javascript', `a.b = 1;\n`, 'set', ['z'], `a.b = 1;\nconst z = 'new';\n`],
    ['javascript', `a.b = 1;\na.c = 2;\n`, 'remove', ['a', 'b'], `a.c = 2;\n`],
    ['javascript', `a.b = 1;\na["c"] = 2;\n`, 'rename', ['a', 'b'], `a.new = 1;\na["c"] = 2;\n`],
  ])('%s: %j %s %j', (name, text, op, path, wanted) => {
    expect(edited(name, text, op, path)).toBe(wanted);
  });
});

describe('dialects', () => {
  const read = (name: string, text: string, options: Record<string, unknown>) => {
    const { root, problems } = findSyntax(name)?.read(text, options) ?? { root: undefined, problems: [] };
    return {
      value: root === undefined ? undefined : plainValue(root),
      problems: problems.map(({ message, start }) => `${start} ${message}`),
    };
  };

  it.each([
    ['a=1\nb: two\n', {}, { a: '1' }, ['4 neither a [section], nor “key=value”, nor a comment']],
    ['a=1\nb: two\n', { colon: true }, { a: '1', b: 'two' }, []],
    ['a = one\n  two\n\tthree\nb=2\n', { continued: 'indent' }, { a: 'one two three', b: '2' }, []],
    ['[s]\na = one \\\ntwo\nb=2\n', { continued: 'backslash' }, { s: { a: 'one two', b: '2' } }, []],
    ['a=1\n  b=2\n', {}, { a: '1', b: '2' }, []],
    ['a=1\n\n  b=2\n', { continued: 'indent' }, { a: '1 b=2' }, []],
    ['# x\n; y=1\n', { comments: [';'] }, {}, ['0 neither a [section], nor “key=value”, nor a comment']],
    ['#a=1\n//b=2\n', { comments: ['//'] }, { '#a': '1' }, []],
    ['a=#336699 ; the sky\nb=" ; x" # y\n[s] ; z\nc=1;2\n', { 'inline-comments': true }, { a: '#336699', b: ' ; x', s: { c: '1;2' } }, []],
    [`a='x'\nb="y"\nc='\n`, { quotes: 'both' }, { a: 'x', b: 'y', c: `'` }, []],
    [`a="y"\n`, { quotes: 'kept' }, { a: '"y"' }, []],
    ['a=C:\\new\n', { escapes: 'none' }, { a: 'C:\\new' }, []],
    ['[s]\nhidden\na=1\n', { 'lone-keys': true }, { s: { hidden: '', a: '1' } }, []],
  ])('INI %j with %j', (text, options, value, problems) => {
    expect(read('ini', text, options)).toEqual({ value, problems });
  });

  it('a continued value is replaced whole', () => {
    const text = 'a = one\n  two\nb=2\n';
    const options = { continued: 'indent' };
    const edits = findSyntax('ini')?.set(text, ['a'], 'new', { options, order: [] }) ?? [];
    expect(applyEdits(text, edits)).toBe('a = new\nb=2\n');
  });

  it.each([
    ['{ "a": 1, // said so\n "b": 2 }', ['10 invalid comment token']],
    ['{ "a": 1, }', ['10 property name expected', '10 value expected']],
    ['{ "a": 1 }', []],
  ])('JSON %j is strict, unless a platform file says otherwise', (text, problems) => {
    expect(read('json', text, {}).problems).toEqual(problems);
    expect(read('json', text, { lenient: true }).problems).toEqual([]);
  });
});

it.each([
  ['yaml', 'a: true\nb: false\nc: 1.5\nd: ~\ne: "true"\nf: no\n', {}, { a: true, b: false, c: 1.5, d: null, e: 'true', f: 'no' }],
  ['json', '{"a":true,"b":false,"c":-1.5,"d":null,"e":"true"}', {}, { a: true, b: false, c: -1.5, d: null, e: 'true' }],
  ['toml', 'a = true\nb = false\nc = 1.5\ne = "true"\nf = 2026-01-02\n', {}, { a: true, b: false, c: 1.5, e: 'true', f: '2026-01-02' }],
  [
    'php',
    "<?php return ['a' => true, 'b' => FALSE, 'c' => -1.5, 'd' => null, 'e' => 'true'];",
    { at: 'return' },
    { a: true, b: false, c: -1.5, d: null, e: 'true' },
  ],
  [
    'javascript',
    "export default { a: true, b: false, c: -1.5, d: null, e: 'true', f: `x` };",
    { at: 'export default' },
    { a: true, b: false, c: -1.5, d: null, e: 'true', f: 'x' },
  ],
  ['comment-header', '/*---\na: true\nb: 2\n---*/', { open: '/*---', close: '---*/' }, { a: true, b: 2 }],
  ['ini', 'a=true\nb=\nc="x;y"\n', {}, { a: 'true', b: '', c: 'x;y' }],
  ['xml', '<a><b>true</b><c/><d e="1">x</d><f>1</f><f>2</f></a>', {}, { b: 'true', c: '', d: { '@e': '1', '#text': 'x' }, f: ['1', '2'] }],
  ['php', "<?php return ['a' => 'x', $k => 'y', 3 => 'z'];", { at: 'return' }, { 3: 'z', a: 'x' }],
  ['php', "<?php namespace A { f(); return ['a' => 'x']; }", { at: 'return' }, { a: 'x' }],
  ['javascript', "let theme; f(); theme = { a: 'x' };", { at: 'theme =' }, { a: 'x' }],
])('%s reads each kind of value as what it is', (name, text, options, wanted) => {
  const { root, problems } = findSyntax(name)?.read(text, options) ?? { root: undefined, problems: [] };
  expect([problems, root === undefined ? undefined : plainValue(root)]).toEqual([[], wanted]);
});

/** Of every value and key: its path, and what stands where it is said to stand. */
function placesOf(text: string, node: ValueNode, path: string): string[] {
  const read = node.kind === 'scalar' ? ` is ${JSON.stringify(node.value)}${node.isQuoted ? ', quoted' : ''}` : ` (${node.kind})`;
  const own = `${path} = ${JSON.stringify(text.slice(node.start, node.end))}${read}`;
  if (node.kind === 'list') return [own, ...node.items.flatMap((item, i) => placesOf(text, item, `${path}[${i}]`))];
  if (node.kind !== 'map') return [own];
  const parts = node.entries.flatMap(({ key, keyStart, keyEnd, value }) => [
    `${path}.${key}: ${JSON.stringify(text.slice(keyStart, keyEnd))}`,
    ...placesOf(text, value, `${path}.${key}`),
  ]);
  return [own, ...parts];
}

it.each(Object.entries(SAMPLES))('%s says where each key and value stands', (name, { text, options }) => {
  const { root } = findSyntax(name)?.read(text, options ?? {}) ?? {};
  expect(root === undefined ? [] : placesOf(text, root, '')).toMatchSnapshot();
});

it.each<[name: string, text: string, options: Record<string, unknown>, places: readonly [number, number][]]>([
  ['comment-header', 'x\n/*---\na: 1\n---*/', { open: '/*---', close: '---*/' }, [[2, 7]]],
  ['comment-header', '/*---\na: 1\n', { open: '/*---', close: '---*/' }, [[0, 5]]],
  ['javascript', 'export default {;', { at: 'export default' }, [[16, 17]]],
])('%s marks what is wrong in %j', (name, text, options, places) => {
  const { problems } = findSyntax(name)?.read(text, options) ?? { problems: [] };
  expect(problems.map(({ start, end }) => [start, end])).toEqual(places);
});

it.each<[name: string, text: string, path: string[], wanted: string, options?: Record<string, unknown>]>([
  ['xml', '<a><b  c="1"/></a>', ['b', '@c'], '<a><b/></a>'],
  ['xml', '<a><b c="1" d="2"/></a>', ['b', '@d'], '<a><b c="1"/></a>'],
  ['json', '{ "a": 1 }', ['a'], '{}'],
  ['json', '{ "a": 1, /* x */ "b": 2 }', ['b'], '{ "a": 1 }', { lenient: true }],
  ['yaml', '{a: 1, b: 2}\n', ['a'], '{b: 2}\n'],
  ['yaml', 'a: 1\nb: 2\n', ['a'], 'b: 2\n'],
])('%s %j without %j is %j', (name, text, path, wanted, options = {}) => {
  expect(applyEdits(text, findSyntax(name)?.remove(text, path, { options, order: [] }) ?? [])).toBe(wanted);
});

describe('what is written, to the letter', () => {
  const set = (
    name: string,
    text: string,
    path: string[],
    value: WritableValue,
    options: Record<string, unknown> = {},
    order: string[][] = [],
  ) => applyEdits(text, findSyntax(name)?.set(text, path, value, { options, order }) ?? []);

  it.each<[string, string, string[], WritableValue, string, Record<string, unknown>?, string[][]?]>([
    ['ini', 'a=\nb=2\n', ['a'], 'x', 'a=x\nb=2\n'],
    [
      'ini',
      '[s]\na = 1',
      ['s', 'b'],
      'x',
      '[s]\na = 1\nb = x',
      {},
      [
        ['s', 'a'],
        ['s', 'b'],
      ],
    ],
    ['ini', 'a=1\n', ['s', 'b'], 'x', 'a=1\n\n[s]\nb=x\n'],
    ['ini', `a='1' ; so\n`, ['a'], 'C:\\x', `a='C:\\x' ; so\n`, { escapes: 'none', quotes: 'both', 'inline-comments': true }],
    ['ini', 'a=1 ; so\n', ['a'], 'x ; y', 'a="x ; y" ; so\n', { escapes: 'none', 'inline-comments': true }],
    ['ini', 'a="1"\n', ['a'], 'x', 'a=x\n', { quotes: 'kept' }],
    ['ini', 'a="1"\n', ['a'], 'x', 'a=x\n', { quotes: 'kept', escapes: 'none' }],
    ['ini', 'hidden\nb=1\n', ['hidden'], 'x', 'hidden=x\nb=1\n', { 'lone-keys': true }],
    ['key-value', 'a \t1\nb 2\n', ['c'], 'x', 'a \t1\nc \tx\nb 2\n', {}, [['a'], ['c'], ['b']]],
    ['key-value', 'a\n', ['a'], 'x', 'a x\n'],
    ['key-value', '; so\n', ['a'], 'x', '; so\na x\n', { comments: [';'] }],
    ['ini', '', ['s', 'b'], ' x', '[s]\nb=\\sx\n'],
    ['json', '{"a":1,"b":2}', ['c'], 'x', '{"a":1, "c": "x","b":2}', {}, [['a'], ['c'], ['b']]],
    ['json', '{"a":1,"b":2}', ['c'], 'x', '{"a":1,"b":2, "c": "x"}', {}, [['a'], ['b'], ['c']]],
    ['json', '{"a":1}', ['c'], 'x', '{"c": "x", "a":1}', {}, [['c'], ['a']]],
    ['json', '{\n  "a": 1,\n  "b": 2\n}', ['c'], 'x', '{\n  "a": 1,\n  "c": "x",\n  "b": 2\n}', {}, [['a'], ['c'], ['b']]],
    ['json', '{\n  "a": 1\n}', ['s', 't', 'u'], 'x', '{\n  "a": 1,\n  "s": { "t": { "u": "x" } }\n}'],
    ['json', '{ "a": [1, "two"] }', ['a'], ['two'], '{ "a": ["two"] }'],
    ['json', '{ "a": ["one", "two"] }', ['a'], ['two', 'one'], '{ "a": ["two", "one"] }'],
    ['javascript', 'a.b("x", { c: 1 });\nd("x", { c: 2 });\n', ['c'], '3', 'a.b("x", { c: 1 });\nd("x", { c: \'3\' });\n', { at: 'd(2' }],
    ['javascript', 'other();\nexport default d({ c: `x` });\n', ['c'], 'y', 'other();\nexport default d({ c: `y` });\n', { at: 'd(1' }],
    [
      'php',
      "<?php\nA\\B::c(1, [\n  'a' => 1,\n]);\n",
      ['b'],
      "it's",
      "<?php\nA\\B::c(1, [\n  'a' => 1,\n  'b' => 'it\\'s',\n]);\n",
      { at: 'A\\B::c(2' },
    ],
    ['yaml', 'a: 1 # said so\n', ['b'], 'no', 'a: 1 # said so\nb: "no"\n'],
    ['yaml', 'a:\n  - one # first\n', ['a'], ['one', 'two'], 'a:\n  - one # first\n  - two\n'],
    ['xml', '<a>\n\t<b/>\n</a>', ['b'], 'x & y', '<a>\n\t<b>x &amp; y</b>\n</a>'],
    ['xml', '<a><b c="1" /></a>', ['b', '@d'], 'x', '<a><b c="1" d="x" /></a>'],
    ['xml', '<a><b>1</b></a>', ['b'], ['x', 'y'], '<a><b>x, y</b></a>'],
    ['xml', '<a><b>1</b><d>2</d></a>', ['c'], 'x', '<a><b>1</b><c>x</c><d>2</d></a>', {}, [['b'], ['c'], ['d']]],
    ['xml', '<a', ['b'], 'x', '<a'],
    ['toml', 'a = 1\n', ['a'], 2, 'a = 2\n'],
    ['toml', 'a = 1', ['b'], 'x', 'a = 1\nb = "x"'],
    ['toml', '', ['b'], 'x', 'b = "x"\n'],
    ['yaml', 'a: 1\n', ['a'], true, 'a: true\n'],
    ['yaml', 'a:\nb: 1\n', ['a'], 'x', 'a: x\nb: 1\n'],
    ['header-lines', '/*\n * A: 1\n */', ['B'], '2', '/*\n * B: 2\n * A: 1\n */', {}, [['B'], ['A']]],
    ['xml', '<a><b>1</b></a>', ['c', '@d'], '"', '<a><b>1</b><c d="&quot;"/></a>'],
    ['xml', '<a>\n  <b c="1"/>\n</a>', ['b', 'd'], 'x', '<a>\n  <b c="1">\n    <d>x</d>\n  </b>\n</a>'],
    ['xml', '<a>\n  <b>\n  </b>\n</a>', ['b', 'c', 'd'], 'x', '<a>\n  <b>\n    <c><d>x</d></c>\n  </b>\n</a>'],
    ['header-lines', '/*\n * A: 1\n */', ['B'], '2', '/*\n * A: 1\n * B: 2\n */', {}, [['A'], ['B']]],
    ['comment-tags', '/* @a 1 */', ['a'], ['1', '2'], '/* @a 1\n * @a 2 */', { repeated: ['a'] }],
    ['comment-tags', '/*\n * @a 1\n * @a 2\n * @b */', ['a'], ['2'], '/*\n * @a 2\n * @b */', { repeated: ['a'] }],
    ['comment-header', '/*---\na: 1\n---*/', ['b'], '2', '/*---\na: 1\nb: "2"\n---*/', { open: '/*---', close: '---*/' }],
  ])('%s %j %j = %j', (name, text, path, value, wanted, options, order) => {
    expect(set(name, text, path, value, options, order)).toBe(wanted);
  });
});

it.each(syntaxNames())('%s reads no document that is longer than it can read in a second', (name) => {
  const syntax = findSyntax(name);
  const longest = syntax?.maxLength ?? 1 << 20;
  const { root, problems } = syntax?.read(' '.repeat(longest + 1), {}) ?? { root: undefined, problems: [] };
  expect([root, problems]).toEqual([
    undefined,
    [{ message: `it is too large for a document: more than ${longest >> 10} Ki characters`, start: 0, end: 1 }],
  ]);
});

/** Small documents of each syntax that are awkward to change: what each edit makes of them, letter for letter. */
const SMALL: readonly [syntax: string, texts: readonly string[], paths: readonly string[][], options?: Record<string, unknown>][] = [
  [
    'xml',
    [
      '<a/>',
      '<a>\n</a>',
      '<a>\n  <b>1</b> <!-- so -->\n</a>',
      '<a x="1" ><b/><b y="2">t</b></a>',
      '<t>\n  <a>\n    <b>1</b>\n    <b>2</b>\n  </a>\n</t>',
      '<a><b c="1"></b></a>',
    ],
    [['b'], ['c'], ['@x'], ['b', '@c'], ['b', 'd'], ['a', 'b']],
  ],
  [
    'yaml',
    ['', '# so\n', '---\n# so\na: 1\n', 'a: 1', 's:\n  a: 1\n  # so\n  b: 2\nc: 3\n', '{ a: 1 }\n', 'a:\n  - x\n  - y # so\n'],
    [['a'], ['b'], ['s', 'a'], ['s', 'c'], ['s', 'b']],
  ],
  ['json', ['{}', '{\n}', '{ "a": 1 }', '{\n  "a": 1,\n  "s": {}\n}', '{"s":{"a":1,"b":[1,2]}}'], [['a'], ['b'], ['s', 'a'], ['s', 'b']]],
  [
    'toml',
    ['', '# so\n', 'a = 1', '[s]\na = 1\n', 'b = 2\n\n[s]\na = 1 # so\n\n[t]\n', 's = { a = 1 }\n'],
    [['a'], ['b'], ['s', 'a'], ['s', 'b'], ['u', 'a']],
  ],
  [
    'ini',
    ['', '; so\n', 'a=1', '[s]\na=1', '[s]', 'b=1\n[s]', '[s]\n  [t]\n[s]\na=1\na=2\n', '[s]\n\na = 1\n; so\n\n[t]\nb=2\n'],
    [['a'], ['b'], ['s', 'a'], ['s', 'b'], ['u', 'a']],
  ],
  ['key-value', ['', '# so\n', 'a 1', 'a\t1\n# so\nb 2\n', 'a\nb\n'], [['a'], ['b'], ['c']]],
  ['comment-header', ['/*---\n---*/\nx', '/*---\na: 1\n---*/', 'x /*---\na: 1\n---*/'], [['a'], ['b']], { open: '/*---', close: '---*/' }],
  ['comment-tags', ['/*\n*/', '/* @a 1 */', '/**\n * x\n *\n * @a 1\n */\np { }\n/* @c */', '/* @a 1\n @c 2 */'], [['a'], ['b'], ['c']]],
  ['at-rules', ['', '/* so */\n', '@a "1";', '@charset "u";\n@a \'1\' print;\np { }', '@b "x";@a "1"'], [['@a'], ['@b']]],
  ['header-lines', ['/*\n*/', '/* A: 1 */', '<?php\n/**\n * x\n *\n * A: 1\n */\n', '<!--\nA: 1\n-->\n'], [['A'], ['B']]],
  [
    'php',
    ['<?php return [];', "<?php\nreturn [\n  'a' => 1,\n  's' => ['a' => 'x'],\n];\n", '<?php return array("a" => 1);'],
    [['a'], ['b'], ['s', 'a'], ['s', 'b']],
    { at: 'return' },
  ],
  [
    'javascript',
    ['export default {};', "export default {\n  a: 1,\n  s: { a: 'x' }, // so\n};\n", 'export default { "a": `x` }'],
    [['a'], ['b'], ['s', 'a'], ['s', 'b']],
    { at: 'export default' },
  ],
  [
    'po',
    ['msgid ""\nmsgstr ""\n', 'msgid ""\nmsgstr ""\n"a: 1\\n"\n"b: 2\\n"\n\nmsgid "x"\nmsgstr "y"\n', 'msgid ""\nmsgstr "a: 1\\n"\n'],
    [['a'], ['b'], ['c']],
  ],
];

it.each(SMALL)('every edit of small documents of %s', (name, texts, paths, options = {}) => {
  const syntax = findSyntax(name);
  const edited = texts.flatMap((text) =>
    [text, text.replaceAll('\n', '\r\n')].slice(0, text.includes('\n') ? 2 : 1).flatMap((own) =>
      paths.flatMap((path) => {
        const context = { options, order: paths };
        const made = {
          set: syntax?.set(own, path, 'v & "w"', context) ?? [],
          list: syntax?.set(own, path, ['v', 'w'], context) ?? [],
          last: syntax?.set(own, path, 'v', { options, order: paths.toReversed() }) ?? [],
          remove: syntax?.remove(own, path, context) ?? [],
          rename: syntax?.renameKey(own, path, 'z', context) ?? [],
        };
        return Object.entries(made).flatMap(([op, edits]) =>
          edits.length === 0 ? [] : [`${JSON.stringify(own)} ${op} ${path.join('.')}: ${JSON.stringify(applyEdits(own, edits))}`],
        );
      }),
    ),
  );
  expect(edited).toMatchSnapshot('edits');
  // What is read, with its places, and what is wrong: of what is broken off too.
  const readings = texts
    .flatMap((text) => [text, text.slice(0, -2), `${text}\n\t@ {{`])
    .map((text) => {
      const { root, problems } = syntax?.read(text, options) ?? { root: undefined, problems: [] };
      return [JSON.stringify(text), root === undefined ? [] : placesOf(text, root, ''), problems];
    });
  expect(readings).toMatchSnapshot('readings');
});
