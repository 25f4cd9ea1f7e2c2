import { writeFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyEdits, mapOffset } from '../../src/core/text/edits.ts';
import { nearest } from '../../src/core/text/nearest.ts';
import { problemOfGlob } from '../../src/core/files/glob.ts';
import { problemOfPlace } from '../../src/core/configuration/place.ts';
import { problemOfSearch } from '../../src/core/names/shape.ts';
import { MemoryTree } from '../../src/core/files/memory-tree.ts';
import { windowsOf } from '../../src/core/files/read-text.ts';
import { linesOf, withFile } from '../../src/core/files/disk-file.ts';
import { TextSpool } from '../../src/core/files/text-spool.ts';
import { isNestedTooDeeply } from '../../src/core/text/nesting.ts';
import { findSecrets } from '../../src/core/rules/text/secrets.ts';
import { isPattern, matchesPattern } from '../../src/core/text/pattern.ts';
import { Wildcard } from '../../src/core/text/wildcard.ts';
import { SourceDocument } from '../../src/core/text/source-document.ts';
import { spell, splitWords, SPELLINGS, type Spelling } from '../../src/core/names/spelling.ts';
import { findClassBodies, findZones, zoneAt } from '../../src/core/text/zones.ts';
import { Workplace } from '../support/program.ts';

describe('SourceDocument', () => {
  it('gives back any bytes that it takes as text', () => {
    const marks = fc.constantFrom([], [0xef, 0xbb, 0xbf], [0xff, 0xfe], [0xfe, 0xff]);
    fc.assert(
      fc.property(marks, fc.uint8Array({ maxLength: 200 }), (mark, body) => {
        const bytes = Buffer.concat([Buffer.from(mark), body]);
        const source = SourceDocument.decode('a.txt', bytes);
        expect(source?.encode(source.text) ?? bytes).toEqual(bytes);
      }),
    );
  });

  it.each([
    ['utf-8 with a mark', Buffer.from('\uFEFFcumbré'), 'utf-8', 'cumbré'],
    ['iso-8859-1', Buffer.from('cumbr\u00e9', 'latin1'), 'iso-8859-1', 'cumbré'],
    ['utf-16', Buffer.from('\uFEFFcumbré', 'utf16le'), 'utf-16le', 'cumbré'],
  ])('knows %s', (_name, bytes, encoding, text) => {
    expect(SourceDocument.decode('a', bytes)).toMatchObject({ encoding, text });
  });

  it('takes pictures for binary, and says when a character does not fit', () => {
    expect(SourceDocument.decode('a.png', Buffer.from([0x89, 0x50, 0, 1]))).toBeUndefined();
    expect(SourceDocument.decode('a', Buffer.from('\u00e9', 'latin1'))?.encode('€')).toBeUndefined();
  });

  it('counts lines whatever ends them', () => {
    const source = SourceDocument.fromText('a', 'one\r\ntwo\nthree\rfour');
    expect([0, 5, 9, 16].map((offset) => source.positionAt(offset))).toEqual([
      { line: 1, column: 1 },
      { line: 2, column: 1 },
      { line: 3, column: 1 },
      { line: 4, column: 2 },
    ]);
    expect(source.lineAt(2)).toBe('two');
  });
});

describe('edits', () => {
  it('refuses overlapping ones, and maps offsets past the others', () => {
    expect(() =>
      applyEdits('abcdef', [
        { start: 0, end: 3, text: '' },
        { start: 2, end: 4, text: '' },
      ]),
    ).toThrow(RangeError);
    const edits = [{ start: 1, end: 2, text: 'XYZ' }];
    expect(applyEdits('abc', edits)[mapOffset(2, edits)]).toBe('c');
  });
});

describe('spelling', () => {
  it('splits what it spelled', () => {
    const word = fc.stringMatching(/^[a-z]{2,6}[0-9]?$/);
    const split: Spelling[] = ['kebab', 'snake', 'dot', 'spaced', 'train', 'title', 'constant', 'camel', 'pascal'];
    fc.assert(
      fc.property(fc.array(word, { minLength: 1, maxLength: 3 }), fc.constantFrom(...split), (words, spelling) => {
        expect(splitWords(spell(words, spelling))).toEqual(words);
      }),
    );
  });

  it('has a different form for every name', () => {
    const forms = Object.keys(SPELLINGS).map((name) => spell(['cumbre', 'sur'], name as Spelling));
    expect(new Set(forms).size).toBe(forms.length);
  });

  it.each([
    ['licence', 'license'],
    ['Parent_Sheet', 'parent-sheet'],
    ['titel', 'title'],
    ['hotss', 'hosts'],
    ['tilte', 'title'],
    ['colour', undefined],
  ])('takes %s for %s', (word, meant) => {
    expect(nearest(word, ['title', 'license', 'parent-sheet', 'hosts'])).toBe(meant);
  });
});

describe('zones', () => {
  it.each(['`${', '`${ /*', "`${ '", '`${"\\"', '`${ [/', '`\\'])('of many %s that never end take no longer for each', (sign) => {
    const text = sign.repeat(60_000);
    expect(findZones('a.js', text).at(-1)?.end).toBe(text.length);
  });

  it.each([
    [
      'a.php',
      '<p>x</p><?php // x\n$x = "x"; # x\n/* x */ x(); ?> x',
      ['markup', 'comment', 'code', 'string', 'comment', 'comment', 'code', 'markup'],
    ],
    ['a.js', '/x/.test(x); x = /[/"x]/; `x` // x', ['code', 'code', 'code', 'string', 'string', 'comment']],
    // A template within the code of a template, with what only looks like the sign of one.
    ['a.js', '`${a ? `x${{b: "`"}}` : /`/} x`; x', ['string', 'string', 'code']],
    ['a.js', '`${ x`; x', ['string', 'code']],
    ['a.css', '.x { content: "x" } /* x */', ['code', 'string', 'comment']],
    ['a.html', '<b x>x</b><!-- x --> {{! x }}', ['markup', 'markup', 'comment', 'comment']],
    ['a.md', 'x // x', ['text', 'text']],
  ])('of %s', (file, text, kinds) => {
    const zones = findZones(file, text);
    expect([...text.matchAll(/x/g)].map((match) => zoneAt(zones, match.index)).slice(-kinds.length)).toEqual(kinds);
    expect(zones.map((zone) => text.slice(zone.start, zone.end)).join('')).toBe(text);
  });

  it('finds the bodies of classes', () => {
    const text = '<?php function a() {} class B { function c() { if (1) {} } } function d() {}';
    const bodies = findClassBodies(text, findZones('a.php', text));
    expect(bodies.map((body) => text.slice(body.start, body.end))).toEqual(['{ function c() { if (1) {} } }']);
  });
});

describe('patterns from outside', () => {
  it.each(['(', '[a', '(\\p+)*', '(a)\\1', '(?=a)b', '(?<!a)b'])('%s is none that can be matched in linear time', (pattern) => {
    expect(isPattern(pattern)).toBe(false);
  });

  it.each([
    ['^[a-z][a-z0-9-]{1,39}$', 'paso', true],
    ['^[a-z][a-z0-9-]{1,39}$', 'Paso', false],
    ['^[a-z]+(_[a-z]+)*$', 'paso_alto', true],
    ['^(\\p{L}+-)*$', 'é-', true],
    // Each of these takes other engines longer than the universe lasts.
    ['^([a-z]+)+$', `${'a'.repeat(200)}!`, false],
    ['^(a*)*$', `${'a'.repeat(200)}!`, false],
    ['^(x|[a-z]+)+$', `${'a'.repeat(200)}!`, false],
    [`${'a*'.repeat(30)}b`, 'a'.repeat(200), false],
  ])('%s on %s: %s', (pattern, text, wanted) => {
    expect(matchesPattern(text, pattern)).toBe(wanted);
  });

  it('a wildcard finds what the obvious regular expression finds', () => {
    const letters = fc.stringMatching(/^[ab ]{0,12}$/);
    const wish = fc.stringMatching(/^[ab]{1,2}(\*[ab]{0,2}){0,3}$/);
    fc.assert(
      fc.property(wish, letters, (text, within) => {
        const obvious = new RegExp(text.replaceAll('*', '[^ ]*'), 'g');
        const expected = [...within.matchAll(obvious)].map((match) => [match.index, match.index + match[0].length]);
        const wildcard = new Wildcard(text, / /);
        expect([...wildcard.find(within)].map(({ start, end }) => [start, end])).toEqual(expected);
        expect(wildcard.matches(within)).toBe(new RegExp(`^(?:${obvious.source})$`).test(within));
      }),
    );
  });

  it.each(['*a*b*c*d', 'a/*b*c*d*e/f', '**/a/**/b/**/c/**', '*(a|b)', 'a'.repeat(401)])('the glob %s is refused', (glob) => {
    expect(problemOfGlob(glob)).toBeDefined();
  });

  it.each(['{name}{path}', '{name}_{path}', '{id} {name}'])('the shape %s is not searched for', (shape) => {
    expect(problemOfSearch(shape)).toBeDefined();
  });

  it.each(['..', 'a/../b', '/etc', 'C:/x', '~/x', 'a\\b', 'a\0b', './a'])('the place %j leads out of its folder', (path) => {
    expect(problemOfPlace(path)).toBeDefined();
  });
});

it.each([0, 1, 70_000])('a text of pieces that waits on the disk from %i characters on is read as it was put together', (most) => {
  const spool = new TextSpool(most);
  const pieces = Array.from({ length: 40_000 }, (_, i) => `«${i}» ñ🏔\n`);
  for (const piece of pieces) spool.add(piece);
  expect([...spool.texts()].join('')).toBe(pieces.join(''));
});

it('the lines of a file are told with where they stand, however they are cut, and empty ones left out', () => {
  const lines = ['ñandú', '', 'x'.repeat(70_000), '', '', '🏔', 'last'];
  const path = new Workplace().path('lines.txt');
  for (const text of [lines.join('\n'), `${lines.join('\n')}\n`]) {
    writeFileSync(path, text);
    const bytes = Buffer.from(text);
    const read = withFile(path, (file) => [...linesOf(file)]);
    expect(read.map((line) => [line.number, line.text])).toEqual(lines.map((line, i) => [i + 1, line]).filter(([, line]) => line !== ''));
    expect(read.map(({ start, length }) => bytes.subarray(start, start + length).toString())).toEqual(read.map(({ text: own }) => own));
  }
});

it('a large file in stretches has every place once, wherever they begin and end', () => {
  const pieces = fc.array(fc.tuple(fc.constantFrom('paso', 'x'.repeat(700), '/a/', 'pas'), fc.integer({ min: 1, max: 9 })), {
    maxLength: 30,
  });
  fc.assert(
    fc.property(pieces, fc.integer({ min: 1, max: 9000 }), (parts, size) => {
      const whole = parts.map(([text, count]) => text.repeat(count)).join('');
      const bytes = Buffer.from(whole);
      const tree = MemoryTree.of({ a: bytes });
      tree.parts = function* cut() {
        for (let at = 0; at < bytes.length; at += size) yield bytes.subarray(at, at + size);
      };
      const placesIn = (text: string): number[] => [...text.matchAll(/paso/g)].map(({ index }) => index);
      const found = [...windowsOf(tree, 'a')].flatMap(({ text, start, from, until }) =>
        placesIn(text).flatMap((at) => (from <= at && at < until ? [start + at] : [])),
      );
      expect(found).toEqual(placesIn(whole));
    }),
    { numRuns: 200 },
  );
});

it.each([
  ['a: [b, {c: d}]\n'.repeat(2000), false],
  ['[['.repeat(150) + ']]'.repeat(150), true],
  [`${'['.repeat(190)}${']'.repeat(190)}`, false],
  ['a: ]\n'.repeat(201), true],
  ['a smile :)\n'.repeat(2000), false],
  ['- '.repeat(200), true],
  ['|\n'.repeat(100), true],
])('brackets that no parser is given: %#', (text, expected) => {
  expect(isNestedTooDeeply(text)).toBe(expected);
});

it.each([
  ...['_pat_', 'glpat-', 'pypi-', 'xoxb-', 'sk-', 'SG.', 'eyJ', `eyJ${'a'.repeat(12)}.eyJ`, 'k_live_', '-----BEGIN A ', '://a:'],
  ...['password', 'password="a', 'api_key = a', 'key ', 'machine a login ', 'authorization: basic ', 'token', '_TOKEN=', 'secret:\t'],
])('secrets are looked for to the end of a text of nothing but %j', (piece) => {
  for (const end of ['-', '"']) expect([...findSecrets(piece.repeat(1_000_000 / piece.length) + end, false)].length).toBeLessThan(4000);
});
