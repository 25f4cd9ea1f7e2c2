import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SourceDocument } from '../../src/core/text/source-document.ts';
import { lengthEdits } from '../../src/core/rename/content/serialised.ts';
import { changedDigests, checksumEdits, digestOf, findChecksums } from '../../src/core/rename/content/checksums.ts';
import { judgedLast, matchingFor, named, rename } from '../support/renaming.ts';
import type { Weight } from '../../src/core/names/weight.ts';

describe('what a place proves of the name oak', () => {
  const evidence = (file: string, text: string, weight: Weight) => {
    const files = ['css/hut.css', 'css'];
    const oak = matchingFor({ from: named('oak'), shapes: [String.raw`oak_look_\w+`], files, home: 'themes/oak' });
    const { kind } = judgedLast(file, text, { ...oak, pairs: oak.pairs.map((pair) => ({ ...pair, weight })) });
    return kind === 'unsure' ? undefined : kind;
  };

  it.each<[string, string, (string | undefined)[]]>([
    // file, text, then: distinctive, part, short, common
    ['a.md', 'the oak tree', ['text', undefined, undefined, undefined]],
    ['a.md', 'An Oak stands there', ['text', 'text', 'text', 'text']],
    ['a.md', 'made for Oak', ['text', 'text', 'text', 'text']],
    ['a.yaml', 'x: /srv/themes/oak', ['identifier', 'identifier', 'identifier', 'identifier']],
    ['a.yaml', 'x: parts/oak', ['identifier', 'identifier', 'identifier', undefined]],
    ['a.yaml', 'x: parts/oak/css/hut.css', ['identifier', 'identifier', 'identifier', 'identifier']],
    ['a.yaml', 'x: parts/oak/css/gone.css', ['identifier', 'identifier', 'identifier', undefined]],
    ['a.md', '# Oak\n', ['text', 'text', 'text', 'text']],
    ['a.md', 'Oak trees are', ['text', 'text', 'text', undefined]],
    ['a.md', 'the theme oak', ['text', 'identifier', 'identifier', 'identifier']],
    ['a.md', 'the oak theme', ['text', 'identifier', 'identifier', 'identifier']],
    ['a.md', 'call `oak`', ['identifier', 'identifier', 'identifier', undefined]],
    ['a.md', 'the cork-oak', ['identifier', 'identifier', undefined, undefined]],
    ['a.md', 'oak-panels', ['identifier', 'identifier', 'identifier', undefined]],
    ['a.css', '.oak-nav { }', ['identifier', 'identifier', 'identifier', undefined]],
    ['a.css', '.page-oak { }', ['identifier', 'identifier', undefined, undefined]],
    ['a.css', '.theme-oak { }', ['identifier', 'identifier', 'identifier', undefined]],
    ['a.css', '.x { animation: oak }', ['identifier', 'identifier', 'identifier', undefined]],
    ['a.css', '/* oak colours */', ['text', undefined, undefined, undefined]],
    ['a.css', '/* Oak: colours */', ['text', 'text', 'text', 'text']],
    ['a.html', '<b data-oak-x="1">', ['identifier', 'identifier', 'identifier', undefined]],
    ['a.html', '<b class="a oak b">', ['text', 'identifier', 'identifier', undefined]],
    ['a.html', '<b>an oak</b>', ['text', undefined, undefined, undefined]],
    ['a.php', '<?php function oak_setup() {}', ['identifier', 'identifier', 'identifier', 'identifier']],
    ['a.php', '<?php oak_setup();', ['identifier', 'identifier', 'identifier', undefined]],
    ['a.php', '<?php oak_look_menu();', ['identifier', 'identifier', 'identifier', 'identifier']],
    ['a.php', '<?php class OakWalker {}', ['identifier', 'identifier', 'identifier', 'identifier']],
    ['a.php', "<?php define('OAK_VERSION', 1);", ['identifier', 'identifier', 'identifier', 'identifier']],
    ['a.php', '<?php /** @package oak */', ['text', 'identifier', 'identifier', 'identifier']],
    ['a.php', '<?php // an oak', ['text', undefined, undefined, undefined]],
    ['a.js', 'const oak = 1;', ['identifier', 'identifier', 'identifier', 'identifier']],
    ['a.js', "x('oak');", ['identifier', 'identifier', 'identifier', undefined]],
    ['a.js', "x('oak.menu');", ['text', 'identifier', 'identifier', undefined]],
    ['a.js', "x('an oak');", ['text', undefined, undefined, undefined]],
    ['a.ini', '[oak]', ['identifier', 'identifier', 'identifier', undefined]],
    ['a.yaml', 'tree: oak', ['text', undefined, undefined, undefined]],
    ['a.yaml', 'base: "oak"', ['identifier', 'identifier', 'identifier', undefined]],
  ])('%s: %s', (file, text, wanted) => {
    expect((['distinctive', 'part', 'short', 'common'] as const).map((weight) => evidence(file, text, weight))).toEqual(wanted);
  });
});

/** Strings within strings, as PHP's serialize() writes them. */
type Value = string | readonly Value[];

function serialise(value: Value): string {
  if (typeof value === 'string') return `s:${Buffer.byteLength(value)}:"${value}";`;
  return `a:${value.length}:{${value.map((item, i) => `i:${i};${serialise(item)}`).join('')}}`;
}

describe('lengths', () => {
  const text = fc
    .array(fc.constantFrom('albar', 'Albar', 'ñ', ' ', '"', ';', 'x', '{', '}', ':'), { maxLength: 8 })
    .map((parts) => parts.join(''));
  const value = fc.letrec<{ value: Value }>((tie) => ({
    value: fc.oneof({ maxDepth: 3 }, text, fc.array(tie('value'), { maxLength: 4 }), tie('value').map(serialise)),
  })).value;

  it('of serialised strings are those of the renamed strings, however they are nested', () => {
    fc.assert(
      fc.property(value, fc.constantFrom('zigurat', 'y', 'peña'), (given, to) => {
        const before = serialise(given);
        const source = SourceDocument.fromText('a.txt', before);
        const names = [...before.matchAll(/albar/gi)].map((match) => ({ start: match.index, end: match.index + 5, text: to }));
        const after = source.withEdits([...names, ...lengthEdits(source, names)].sort((a, b) => a.start - b.start)).text;
        expect(after).toBe(serialise(renamed(given, to)));
      }),
    );
  });

  it('that were wrong before are left as they are', () => {
    const source = SourceDocument.fromText('a.txt', 's:7:"albar";s:5:"albar"');
    expect(lengthEdits(source, [{ start: 5, end: 10, text: 'x' }])).toEqual([]);
  });
});

function renamed(value: Value, to: string): Value {
  if (typeof value !== 'string') return value.map((item) => renamed(item, to));
  // A string that is itself serialised has lengths of its own.
  const inner = /^(?:s:\d+:"|a:\d+:\{)/.test(value) ? reserialised(value, to) : undefined;
  return inner ?? value.replace(/albar/gi, to);
}

/** What a serialised text becomes, found by taking it apart; undefined when it is none after all. */
function reserialised(text: string, to: string): string | undefined {
  let at = 0;
  const bytes = Buffer.from(text);
  const readValue = (): Value | undefined => {
    const head = /^(?:s:(\d+):"|a:(\d+):\{)/.exec(bytes.subarray(at).toString());
    if (head === null) return undefined;
    at += Buffer.byteLength(head[0]);
    if (head[1] !== undefined) {
      const content = bytes.subarray(at, at + Number(head[1])).toString();
      at += Number(head[1]) + 2;
      return content;
    }
    const items: Value[] = [];
    for (let i = 0; i < Number(head[2]); i++) {
      at += `i:${i};`.length;
      const item = readValue();
      if (item === undefined) return undefined;
      items.push(item);
    }
    at += 1;
    return items;
  };
  const value = readValue();
  return value === undefined || serialise(value) !== text ? undefined : serialise(renamed(value, to));
}

describe('checksums', () => {
  it.each(['sha256', 'sha384', 'sha512'])('of %s are found and written anew', (algorithm) => {
    const [before, after] = [Buffer.from('one'), Buffer.from('two')];
    const text = `<script integrity="${algorithm}-${digestOf(algorithm, before)} ${algorithm}-${digestOf(algorithm, Buffer.from('x'))}">`;
    const stated = findChecksums(text);
    expect(stated).toHaveLength(2);
    const [edit, ...more] = checksumEdits(stated, new Map(changedDigests(new Set([algorithm]), before, after)));
    expect([text.slice(edit?.start, edit?.end), edit?.text, more]).toEqual([digestOf(algorithm, before), digestOf(algorithm, after), []]);
  });
});

it('a line of 250 kB is renamed like any other', () => {
  const unit = '.albar-a{color:var(--albar-b)}.albarda{}';
  const line = unit.repeat(6500);
  const { tree, edits, kept, leftovers } = rename({ 'a.css': line }, named('albar'), named('cumbre-sur'));
  expect(tree.read('a.css').toString()).toBe('.cumbre-sur-a{color:var(--cumbre-sur-b)}.albarda{}'.repeat(6500));
  expect([edits.length, kept.length, leftovers]).toEqual([13_000, 6500, []]);
  expect(Math.max(...edits.map((edit) => edit.before.length))).toBeLessThan(140);
});
