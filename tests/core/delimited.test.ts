import { describe, expect, it } from 'vitest';
import { insertDelimited, removeDelimited } from '../../src/core/documents/delimited.ts';
import { applyEdits } from '../../src/core/text/edits.ts';

/** The bracketed container of a text, and its entries: every word in it that is no comment. */
function parse(text: string) {
  const container = { start: text.search(/[[{]/), end: Math.max(text.lastIndexOf(']'), text.lastIndexOf('}')) + 1 };
  const bare = text.replace(/\/\*[^]*?\*\/|\/\/[^\n\r]*|#[^\n\r]*/g, (comment) => ' '.repeat(comment.length));
  const entries = [...bare.matchAll(/\w+/g)].map((match) => ({ start: match.index, end: match.index + match[0].length }));
  return { container, entries };
}

const insert = (text: string, after: number) => {
  const { container, entries } = parse(text);
  return applyEdits(text, insertDelimited(text, container, entries, after, 'x'));
};
const remove = (text: string, index: number) => {
  const { container, entries } = parse(text);
  return applyEdits(text, removeDelimited(text, container, entries, index));
};

describe('an entry goes in', () => {
  it.each([
    ['[]', -1, '[x]'],
    ['[ ]', -1, '[x]'],
    ['[a]', 0, '[a, x]'],
    ['[a]', -1, '[x, a]'],
    ['[a, b]', 0, '[a, x, b]'],
    ['[a, b]', 1, '[a, b, x]'],
    ['[ a, b ]', 1, '[ a, b, x ]'],
    ['[a,]', 0, '[a, x,]'],
    ['[\n]', -1, '[\n  x,\n]'],
    ['[\n  a\n]', 0, '[\n  a,\n  x\n]'],
    ['[\n  a,\n]', 0, '[\n  a,\n  x,\n]'],
    ['[\n  a,\n  b\n]', 0, '[\n  a,\n  x,\n  b\n]'],
    ['[\n  a,\n]', -1, '[\n  x,\n  a,\n]'],
    ['[\n\ta, // why\n\tb\n]', 0, '[\n\ta, // why\n\tx,\n\tb\n]'],
    ['[\n  a // why\n]', 0, '[\n  a, // why\n  x\n]'],
    ['[\n  a, # why\n]', 0, '[\n  a, # why\n  x,\n]'],
    ['[\r\n  a /* why */\r\n]', 0, '[\r\n  a, /* why */\r\n  x\r\n]'],
  ])('%j after %i: %j', (text, after, wanted) => {
    expect(insert(text, after)).toBe(wanted);
  });
});

describe('an entry comes out', () => {
  it.each([
    ['[a]', 0, '[]'],
    ['[a,]', 0, '[]'],
    ['[a, b]', 0, '[b]'],
    ['[a, b]', 1, '[a]'],
    ['[a, b, c]', 1, '[a, c]'],
    ['[ a, b ]', 1, '[ a ]'],
    ['[\n  a,\n  b\n]', 0, '[\n  b\n]'],
    ['[\n  a,\n  b\n]', 1, '[\n  a\n]'],
    ['[\n  a,\n  b,\n]', 1, '[\n  a,\n]'],
    ['[\n  a, // one\n  b, // two\n]', 0, '[\n  b, // two\n]'],
    ['[\n  a, // one\n  b // two\n]', 1, '[\n  a // one\n]'],
    ['[\n  a /* one */,\n  b\n]', 0, '[\n  b\n]'],
    ['[\r\n  a,\r\n  b,\r\n]', 0, '[\r\n  b,\r\n]'],
  ])('%j at %i: %j', (text, index, wanted) => {
    expect(remove(text, index)).toBe(wanted);
  });

  it('and in again, and nothing is changed', () => {
    for (const text of ['[a]', '[a, b]', '[\n  a,\n  b\n]', '[\n  a,\n  b,\n]', '[\n  a, // one\n  b // two\n]', '{\r\n\ta,\r\n}']) {
      for (const [index] of parse(text).entries.entries()) {
        expect([text, index, remove(insert(text, index), index + 1)]).toEqual([text, index, text]);
      }
    }
  });
});
