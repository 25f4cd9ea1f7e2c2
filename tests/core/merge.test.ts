import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isConflict, linesOf, mergeLines, writtenMerge } from '../../src/core/lineage/merge.ts';

const merged = (ours: string, original: string, theirs: string): string =>
  writtenMerge(mergeLines(ours.split(''), original.split(''), theirs.split('')), '', { ours: 'a', theirs: 'b' }).replace(
    /<{7} a([^]*?)={7}([^]*?)>{7} b/g,
    '($1|$2)',
  );

it.each([
  ['abc', 'abc', 'abc', 'abc'],
  ['aXc', 'abc', 'abc', 'aXc'],
  ['abc', 'abc', 'aYc', 'aYc'],
  ['aXc', 'abc', 'aXc', 'aXc'],
  ['aXc', 'abc', 'aYc', 'a(X|Y)c'],
  ['Xabcde', 'abcde', 'abcdeY', 'XabcdeY'],
  ['ace', 'abcde', 'abcdeY', 'aceY'],
  ['acd', 'abcd', 'abXd', 'a(c|bX)d'],
  ['abXcd', 'abcd', 'abYcd', 'ab(X|Y)cd'],
  ['aXPbQc', 'abc', 'aYPbQc', 'a(X|Y)PbQc'],
  ['', 'abc', 'abc', ''],
  ['', 'abc', 'aXc', '(|aXc)'],
  ['new', '', '', 'new'],
  ['new', '', 'now', 'n(e|o)w'],
])('%j and %j from %j… give %j', (ours, original, theirs, wanted) => {
  expect(merged(ours, original, theirs)).toBe(wanted);
});

const text = fc.array(fc.constantFrom('a', 'b', 'c', 'd'), { maxLength: 12 });

describe('a merge', () => {
  const flat = (parts: ReturnType<typeof mergeLines>): string[] | undefined =>
    parts.some(isConflict) ? undefined : (parts as readonly (readonly string[])[]).flat();

  it('gives the side that changed, where only one did, and what both have, where they changed alike', () => {
    fc.assert(
      fc.property(text, text, (original, changed) => {
        expect(flat(mergeLines(changed, original, original))).toEqual(changed);
        expect(flat(mergeLines(original, original, changed))).toEqual(changed);
        expect(flat(mergeLines(changed, original, changed))).toEqual(changed);
      }),
    );
  });

  it('holds every line of each side, in its order, but those that the other side took out', () => {
    fc.assert(
      fc.property(text, text, text, (original, ours, theirs) => {
        const parts = mergeLines(ours, original, theirs);
        const side = (pick: 'ours' | 'theirs'): string[] => parts.flatMap((part) => (isConflict(part) ? [...part[pick]] : [...part]));
        // Read with our side of each conflict, what is not ours is theirs; and the other way round.
        const isWithin = (lines: readonly string[], whole: readonly string[]): boolean => {
          let at = 0;
          for (const line of whole) if (line === lines[at]) at++;
          return at === lines.length;
        };
        const added = (lines: readonly string[]): string[] => lines.filter((line) => !(original as readonly string[]).includes(line));
        expect(isWithin(added(ours), side('ours'))).toBe(true);
        expect(isWithin(added(theirs), side('theirs'))).toBe(true);
      }),
    );
  });

  it('does not depend on which side is which, but for their places in a conflict', () => {
    fc.assert(
      fc.property(text, text, text, (original, ours, theirs) => {
        const turned = mergeLines(theirs, original, ours).map((part) =>
          isConflict(part) ? { ours: part.theirs, original: part.original, theirs: part.ours } : part,
        );
        expect(turned).toEqual(mergeLines(ours, original, theirs));
      }),
    );
  });

  it('of texts that have nothing in common ends', () => {
    const long = (word: string): string[] => Array.from({ length: 40_000 }, (_, i) => `${word} ${i}`);
    const parts = mergeLines(long('a'), long('b'), long('c'));
    expect(parts.filter(isConflict)).toHaveLength(1);
  }, 20_000);
});

it('knows lines by either end, and marks what is left', () => {
  expect(linesOf('a\r\nb\r\n')).toEqual({ lines: ['a', 'b', ''], end: '\r\n' });
  expect(linesOf('a\nb')).toEqual({ lines: ['a', 'b'], end: '\n' });
  const marked = writtenMerge([['a'], { ours: ['b'], original: [], theirs: ['c'] }], '\n', { ours: 'cierzo', theirs: 'albar 2.1.0' });
  expect(marked).toBe('a\n<<<<<<< cierzo\nb\n=======\nc\n>>>>>>> albar 2.1.0');
});
