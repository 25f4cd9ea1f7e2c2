import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parse } from 'yaml';
import { findEntry, plainValue } from '../../src/core/documents/syntax.ts';
import { commentHeaderSyntax } from '../../src/core/documents/comment-header.ts';
import { yamlSyntax } from '../../src/core/documents/yaml.ts';
import { applyEdits } from '../../src/core/text/edits.ts';

const ORDER = [['title'], ['version'], ['hosts']];
const context = { options: {}, order: ORDER };
const awkward = fc.constantFrom(
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
  '',
  '{x}',
  '@',
  '~',
  'null',
  '0x1',
  'ñandú',
  '\\',
  '%',
  '!x',
  '|',
  'x #y',
);
const text = fc.oneof(
  awkward,
  fc.string({ unit: 'grapheme', maxLength: 20 }).filter((value) => !/[\p{C}\u2028\u2029]/u.test(value)),
);

const wrap = { yaml: (yaml: string) => yaml, 'comment-header': (yaml: string) => `/*---\n${yaml}---*/\n.x { color: red }\n` } as const;

describe.each([yamlSyntax, commentHeaderSyntax].map((syntax) => [syntax.name, syntax] as const))('%s', (name, syntax) => {
  const document = wrap[name as keyof typeof wrap];
  const value = (whole: string, key: string) => {
    const entry = findEntry(syntax.read(whole, {}).root, [key]);
    return entry === undefined ? undefined : plainValue(entry.value);
  };

  it('reads back what it wrote, and touches nothing else', () => {
    const old = fc.constantFrom('Old', '"Old"', "'Old'", 'Old # said so', '');
    fc.assert(
      fc.property(old, text, fc.constantFrom('\n', '\r\n'), (before, wanted, end) => {
        const whole = document(`# first\ntitle: ${before}\nversion: 1.0.0   # v\n`).replaceAll('\n', end);
        const written = applyEdits(whole, syntax.set(whole, ['title'], wanted, context));
        expect(syntax.read(written, {}).problems).toEqual([]);
        expect(value(written, 'title')).toBe(wanted);
        expect(written.split(end).filter((line) => !line.startsWith('title'))).toEqual(
          whole.split(end).filter((line) => !line.startsWith('title')),
        );
      }),
    );
  });

  it('puts a new field in its place, and takes one out without a scar', () => {
    const whole = document('title: A # a\nhosts: ">=2"\n');
    const added = applyEdits(whole, syntax.set(whole, ['version'], '1.0.0', context));
    expect(added).toBe(document('title: A # a\nversion: 1.0.0\nhosts: ">=2"\n'));
    expect(applyEdits(added, syntax.remove(added, ['version'], context))).toBe(whole);
    expect(applyEdits(whole, syntax.renameKey(whole, ['hosts'], 'for', context))).toBe(document('title: A # a\nfor: ">=2"\n'));
    const empty = document('');
    expect(value(applyEdits(empty, syntax.set(empty, ['title'], 'x', context)), 'title')).toBe('x');
  });

  it('gives the place of each value', () => {
    const whole = document('title: "A"\ntags: [one, two]\n');
    const { root } = syntax.read(whole, {});
    const tags = findEntry(root, ['tags'])?.value;
    expect(tags?.kind === 'list' && tags.items.map((item) => whole.slice(item.start, item.end))).toEqual(['one', 'two']);
    expect(whole.slice(findEntry(root, ['title'])?.value.start, findEntry(root, ['title'])?.value.end)).toBe('"A"');
  });

  it.each([
    ['title: a: b\n', 1, /nested mappings|colon/i],
    ['a: 1\na: 2\n', 2, /second time/],
    ['a: "x\n', 1, /not closed|quote/i],
    ['a: &x 1\nb: *x\n', 2, /alias/],
    ['__proto__: 1\n', 1, /plain word/],
    ['- a\n', 1, /key: value/],
  ])('has a finding with a place for %j', (yaml, line, message) => {
    const whole = document(yaml);
    const [problem] = syntax.read(whole, {}).problems;
    expect(problem?.message).toMatch(message);
    const offset = name === 'yaml' ? 0 : 1;
    expect(whole.slice(0, problem?.start).split('\n').length).toBe(line + offset);
  });

  it('survives anything', () => {
    fc.assert(
      fc.property(
        fc.oneof(fc.string(), fc.string({ unit: fc.constantFrom('a', ':', ' ', '\n', '"', '-', '[', '{', '&', '*', '|', '#', '\t') })),
        (yaml) => {
          for (const problem of syntax.read(document(yaml), {}).problems) expect(problem.start).toBeLessThanOrEqual(document(yaml).length);
        },
      ),
    );
  });
});

it.each([
  ['.x {}', /begin|missing/],
  ['.x {}\n/*---\na: 1\n---*/', /not at the beginning/],
  ['/*---\na: 1\n', /not closed/],
])('a header of %j is told of', (whole, message) => {
  expect(commentHeaderSyntax.read(whole, {}).problems[0]?.message).toMatch(message);
});

it('writes YAML that an independent reader reads alike', () => {
  fc.assert(
    fc.property(text, (wanted) => {
      const written = applyEdits('title: x\n', yamlSyntax.set('title: x\n', ['title'], wanted, context));
      expect(parse(written)).toEqual({ title: wanted });
    }),
  );
});
