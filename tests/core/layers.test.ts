import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { expect, it } from 'vitest';
import { picture, roomOf } from '../../scripts/layers.mjs';

const SOURCES = join(import.meta.dirname, '../../src');
const files = (readdirSync(SOURCES, { recursive: true }) as string[])
  .filter((file) => file.endsWith('.ts'))
  .map((file) => ({ file, text: readFileSync(join(SOURCES, file), 'utf8') }));

it('every file imports only what stands below its room', () => {
  const upwards = files.flatMap(({ file, text }) => {
    const imported = [...text.matchAll(/(?:from |import\()'(\.[^']+)'/g)].map((match) => join(dirname(file), match[1] ?? ''));
    const wrong = imported.filter((other) => roomOf(file) < 0 || roomOf(other) > roomOf(file));
    return wrong.map((other) => `${file} → ${relative('.', other)}`);
  });
  expect(upwards).toEqual([]);
});

it('the core reads no current folder', () => {
  const path = /import \{[^}]*\bresolve\b[^}]*\} from 'node:path'/;
  const reads = files.filter(
    ({ text }) => /process\.(?:cwd|chdir)/.test(text) || (path.test(text) && /\bresolve\((?:'\.'|[\w.]+)\)/.test(text)),
  );
  expect(reads.map(({ file }) => file).filter((file) => file.startsWith('core/'))).toEqual([]);
});

it('the picture in CONTRIBUTING.md is the one that is held', () => {
  expect(readFileSync(join(SOURCES, '../CONTRIBUTING.md'), 'utf8')).toContain(picture());
});
