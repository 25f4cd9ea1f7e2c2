import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { isMap, isPair, isScalar, isSeq, parse, parseDocument } from 'yaml';
import { MemoryTree } from '../../src/core/files/memory-tree.ts';
import { withItem, withPair } from '../../src/core/learning/add-lines.ts';
import { draftPlatform } from '../../src/core/learning/draft.ts';
import { extendPlatform, type ExtendedPlatform } from '../../src/core/learning/extend-platform.ts';
import type { SampleTheme } from '../../src/core/learning/theme-set.ts';
import { readPlatform } from '../../src/core/platform/load.ts';
import { HUTS, makeBoards } from '../support/boards.ts';

describe('adding to a YAML text', () => {
  it.each<[what: string, text: string, path: (string | number)[], item: string[], wanted: string]>([
    ['a list of lines', 'a:\n  - x # one\n\nb: 1\n', ['a'], ['y # two'], 'a:\n  - x # one\n  - y # two\n\nb: 1\n'],
    ['one at the margin', 'a:\n- x\nb: 1\n', ['a'], ['y'], 'a:\n- x\n- y\nb: 1\n'],
    [
      'a list within',
      'a:\n  - k:\n      - { p: 1 }\n  - k: 2\n',
      ['a', 0, 'k'],
      ['{ p: 2 }'],
      'a:\n  - k:\n      - { p: 1 }\n      - { p: 2 }\n  - k: 2\n',
    ],
    ['brackets', 'a: [x, "y"] # mine\n', ['a'], ['"z" # 2 of 2'], 'a: [x, "y", "z"] # mine\n'],
    ['brackets on lines', 'a: [\n  x,\n]\n', ['a'], ['z'], 'a: [\n  x, z,\n]\n'],
    ['brackets with a comment within', 'a: [\n  x # one\n]\n', ['a'], ['z'], 'a: [\n  x, z # one\n]\n'],
    [
      'empty brackets',
      'l:\n  a: [] # none\nb: 1\n',
      ['l', 'a'],
      ['path: x', 'fields: []'],
      'l:\n  a: # none\n    - path: x\n      fields: []\nb: 1\n',
    ],
    ['empty brackets in brackets', 'a: { b: [] }\n', ['a', 'b'], ['x # y'], 'a: { b: [x] }\n'],
    ['a list that is not there', 'l:\n  b: 1\n', ['l', 'a'], ['x'], 'l:\n  b: 1\n  a:\n    - x\n'],
    ['a list of a map that is not there', 'b: 1\n', ['l', 'a'], ['x'], 'b: 1\n\nl:\n  a:\n    - x\n'],
    ['a key without a value', 'a: # none yet\nb: 1\n', ['a'], ['x'], 'a: # none yet\n  - x\nb: 1\n'],
    ['a text of lines before', 'a:\n  - |\n    one\n    two\nb: 1\n', ['a'], ['y'], 'a:\n  - |\n    one\n    two\n  - y\nb: 1\n'],
    ['lines that end as on Windows', 'a:\r\n  - x\r\nb: 1\r\n', ['a'], ['y'], 'a:\r\n  - x\r\n  - y\r\nb: 1\r\n'],
    ['no end of the last line', 'a:\n  - x', ['a'], ['y'], 'a:\n  - x\n  - y'],
  ])('makes %s longer', (_what, text, path, item, wanted) => {
    expect(withItem(text, path, item)).toBe(wanted);
  });

  it.each<[what: string, text: string, path: string[], value: string[], wanted: string | undefined]>([
    ['lines', 'a:\n  b: 1\nc: 2\n', ['a', 'd'], ['3 # x'], 'a:\n  b: 1\n  d: 3 # x\nc: 2\n'],
    ['brackets', 'a: { b: 1 } # y\n', ['a', 'd'], ['3 # x'], 'a: { b: 1, d: 3 } # y\n'],
    ['empty brackets', 'a: {} # y\n', ['a', 'd'], ['{ x: 1 }'], 'a: # y\n  d: { x: 1 }\n'],
    ['empty brackets in brackets', 'l: { a: {} }\n', ['l', 'a', 'd'], ['1 # x'], 'l: { a: {d: 1} }\n'],
    ['the text itself', 'a: 1\n', ['d'], ['x: 1', 'y: 2'], 'a: 1\n\nd:\n  x: 1\n  y: 2\n'],
    ['a text with line ends of Windows', 'a: 1\r\n', ['d'], ['x: 1', 'y: 2'], 'a: 1\r\n\r\nd:\r\n  x: 1\r\n  y: 2\r\n'],
    ['a text that ends with a blank line', 'a: 1\n\n', ['d'], ['2'], 'a: 1\n\nd: 2\n'],
    ['brackets with more than a line', 'a: { b: 1 }\n', ['a', 'd'], ['x: 1', 'y: 2'], undefined],
    ['a value', 'a: 1\n', ['a'], ['x: 1'], undefined],
    ['a list', '- a\n', ['d'], ['1'], undefined],
  ])('puts a key into %s', (_what, text, path, value, wanted) => {
    expect(withPair(text, path, value)).toBe(wanted);
  });

  const word = fc.stringMatching(/^[a-z]{1,6}$/);
  const tree = fc.letrec<{ node: unknown }>((tie) => ({
    node: fc.oneof(
      { depthSize: 'small' },
      fc.oneof(word, fc.integer(), fc.constant(null)),
      fc.array(tie('node'), { maxLength: 3 }),
      fc.dictionary(word, tie('node'), { maxKeys: 3 }),
    ),
  })).node;
  /** Writes a value as people write YAML: some of it in brackets, some with comments. */
  const styled = (value: unknown, seed: number): string => {
    const document = parseDocument('{}');
    document.contents = document.createNode(value) as never;
    let turn = seed;
    const follow = (node: unknown): void => {
      if (!isMap(node) && !isSeq(node)) return;
      turn = (turn * 7 + 3) % 11;
      node.flow = turn < 3;
      for (const item of node.items as unknown[]) {
        const below = isPair(item) ? item.value : item;
        if (isScalar(below) && !node.flow && turn % 2 === 0) below.comment = ' mine';
        follow(below);
      }
    };
    follow(document.contents);
    return document.toString({ lineWidth: 0 });
  };

  it('adds nothing else, and changes no line but those in brackets', () => {
    fc.assert(
      fc.property(
        fc.dictionary(word, tree, { minKeys: 1, maxKeys: 4 }),
        word,
        word,
        fc.integer({ min: 0, max: 10 }),
        (value, key, item, seed) => {
          const text = styled(value, seed);
          const known = value[key];
          fc.pre(known === undefined || Array.isArray(known));
          const added = withItem(text, [key], [item]);
          expect(added).toBeDefined();
          expect(parse(added ?? '')).toEqual({
            ...(parse(text) as object),
            [key]: [...((parse(text) as Record<string, unknown[] | null>)[key] ?? []), item],
          });
        },
      ),
      { numRuns: 300 },
    );
  });
});

let root = '';
let count = 0;
beforeAll(() => (root = mkdtempSync(join(tmpdir(), 'pionero-extending-'))));
afterAll(() => rmSync(root, { recursive: true, force: true }));

type Change = Parameters<typeof makeBoards>[2];
const boards = (ids: readonly string[], change?: Change): { themes: SampleTheme[]; shelves: string[] } => {
  const shelf = join(root, `${++count}`, 'boards');
  return { themes: makeBoards(shelf, ids, change), shelves: [shelf] };
};

const FIRST = HUTS.slice(0, 8);
const FURTHER = HUTS.slice(8);

/** A file that was learned from eight boards and then written on by hand, after which eight others teach it. */
function extended(change: Change, byHand: (text: string) => string = (text) => text): ExtendedPlatform & { before: string } {
  const first = boards(FIRST);
  const request = { folderName: 'boards', file: 'b.platform.yaml', folder: root };
  const { text } = draftPlatform({ ...request, ...first, wishes: { name: 'boards' } });
  const before = byHand(text);
  const given = readPlatform(MemoryTree.of({ 'b.platform.yaml': before }), 'b.platform.yaml', 'b.platform.yaml', root);
  return { ...extendPlatform(given, { ...boards(FURTHER, change), folderName: 'boards' }), before };
}

const inManifest =
  (from: string | RegExp, to: string, only: (id: string) => boolean = () => true): Change =>
  (id, files) =>
    only(id) ? { ...files, 'board.desc': (files['board.desc'] ?? '').replace(from, to) } : files;

describe('a platform file that further themes teach', () => {
  it.each<[what: string, change: Change, lines: string[]]>([
    [
      'a field, which the first themes may lack',
      inManifest(/\n$/, '\nseason = 3\n'),
      ['- { key: [board, season], fact: boardSeason, type: integer } # 8 of 8; a whole number'],
    ],
    ['a file', (_id, files) => ({ ...files, 'rules.about': 'x' }), ['- { path: rules.about } # 8 of 8']],
    [
      'a document',
      (id, files) => ({ ...files, 'map.json': JSON.stringify({ title: `Map of ${id}`, version: '1.0.0' }) }),
      ['- path: map.json # 8 of 8', '{ key: title, fact: mapJsonTitle } # 8 of 8'],
    ],
    ['parents', inManifest(/base = .*/, 'base = cellar'), ['built-in: [ground, cellar]']],
    [
      'a tag',
      (_id, files) => ({ ...files, 'sheets/late.tpl': '{late x}<p>{/late}' }),
      ['- { opens: "{late {text}}", closes: "{/late}" } # 8 of 8; templates'],
    ],
    ['templates in another folder', (_id, files) => ({ ...files, 'lists/a.tpl': '{when a}{/when}' }), ['"lists/**/*.tpl"']],
    [
      'catalogues',
      (_id, files) => ({ ...files, 'words/en.yml': 'hut: a\n', 'words/es.yml': 'hut: b\n' }),
      ['strings: { file: "words/{locale}.yml", format: yaml'],
    ],
    [
      'a stylesheet that is made',
      (_id, files) => ({ ...files, 'style/a.css': '@import "b.css";\n', 'style/b.scss': '' }),
      ['made:\n  - { file: "{path}.css", from: "{path}.scss" }'],
    ],
  ])('learns %s', (_what, change, lines) => {
    const { text, before, added, taken } = extended(change);
    const own = text.split('\n');
    expect([taken.length, ...lines.filter((line) => !text.includes(line))]).toEqual([8]);
    expect(added.length).toBeGreaterThan(0);
    // Lists in brackets become longer; else every line is still there.
    for (const line of before.split('\n').filter((each) => !each.includes('['))) expect(own).toContain(line);
    for (const line of own.filter((each) => !before.includes(each))) expect(line).not.toContain('required: always');
  });

  it('learns a value that several have, and not what one has', () => {
    const byHand = (text: string): string => text.replace('fact: boardMood', 'fact: boardMood, type: choice, values: [calm, snow, storm]');
    const mood = (to: string, only: (id: string) => boolean) => extended(inManifest(/mood = .*/, `mood = ${to}`, only), byHand);
    const several = mood('wild', (id) => id < 'g');
    const one = mood('wild', (id) => id === 'umbria');
    expect([
      several.text.includes('values: [calm, snow, storm, "wild"]'),
      several.taken.length,
      one.text.includes('wild'),
      one.taken.length,
    ]).toEqual([true, 8, false, 7]);
  });

  it('keeps what a person wrote, whatever the themes say, and names the lines that refuse them', () => {
    const byHand = (text: string): string =>
      text
        .replace('fact: boardWidth, type: integer', 'fact: breadth, type: integer')
        .replace('# one sentence on its themes', '# ours')
        .replaceAll(/ {2}- \{ path: pieces.*\n/g, '');
    const { text, before, refusing, refused, added } = extended(inManifest(/width = .*/, 'width = wide'), byHand);
    expect(added.filter((each) => !each.includes('pieces/head.tpl'))).toEqual([]);
    expect(text.replace(/.*pieces\/head\.tpl \} # 8 of 8\n/, '')).toBe(before.replace(/.*pieces\/head\.tpl \} # 8 of 8\n/, ''));
    expect([refused.length, refusing.map(({ what, refuses }) => [what, refuses.length])]).toEqual([8, [['board.desc: board.width', 8]]]);
  });

  it('has nothing to add that the file says already', () => {
    const { added, text, before } = extended((_id, files) => files);
    expect([added, text]).toEqual([[], before]);
  });

  it('refuses a file that lies over another', () => {
    const over = readPlatform(MemoryTree.of({ 'b.yaml': 'pionero: platform/1\nextend: vereda\nname: over\n' }), 'b.yaml', 'b.yaml', root);
    expect(() => extendPlatform(over, { ...boards(FURTHER), folderName: 'boards' })).toThrow(/extends another platform file/);
  });
});
