import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { FullName } from '../../src/core/names/full-name.ts';
import { judgesPage } from '../../src/core/rename/judges-page.ts';
import { JUDGES } from '../../src/core/rename/judges.ts';
import { named, rename } from '../support/renaming.ts';

it('has its page in docs/ (made by “npm run docs”)', () => {
  expect(readFileSync(new URL('../../docs/judges.md', import.meta.url), 'utf8')).toBe(judgesPage());
});

describe.each(JUDGES)('the judge $code', ({ code, examples }) => {
  it('has examples', () => {
    expect(examples.length).toBeGreaterThan(0);
  });

  it.each(examples)('$file: $text', ({ file, text, becomes, names = 'albar → cumbre-sur', latin1 = false, with: more = {} }) => {
    const [from, to] = names.split(' → ').map((name) => {
      const [, vendor, id = '', title] = /^(?:(\w+)\/)?(\S+)(?: \((.+)\))?$/.exec(name) ?? [];
      return { ...named(id, title), ...(vendor === undefined ? {} : { vendor }) };
    }) as [FullName, FullName];
    const encoding = latin1 ? 'latin1' : 'utf8';
    const before = text.replace(/[«»]/g, '');
    const { files = {}, ...wishes } = more;
    const renamed = rename({ ...files, [file]: Buffer.from(before, encoding) }, from, to, wishes);
    const column = text.indexOf('«');
    const line = text.slice(0, column).split('\n').length;
    const at = { file, line, column: column - text.lastIndexOf('\n', column) };
    const places = [...renamed.edits, ...renamed.kept, ...renamed.unsure];
    const place = places.find(({ was }) => was.file === at.file && was.line === at.line && was.column === at.column);
    expect(place?.judge).toBe(code);
    expect(renamed.tree.read(file).toString(encoding)).toBe(becomes ?? before);
    expect(renamed.leftovers).toEqual([]);
  });
});
