import { readdirSync, readFileSync } from 'node:fs';
import { join, posix, sep } from 'node:path';
import { expect, it } from 'vitest';
import { picture, roomOf } from '../../scripts/layers.mjs';

const SOURCES = join(import.meta.dirname, '../../src');
const files = (readdirSync(SOURCES, { recursive: true }) as string[])
  .filter((file) => file.endsWith('.ts'))

  .map((path) => ({ file: path.replaceAll(sep, '/'), text: readFileSync(join(SOURCES, path), 'utf8') }));

/** The files that each file imports, values and types. */
const imports = new Map(
  files.map(({ file, text }) => [
    file,
    [...text.matchAll(/(?:from |import\()'(\.[^']+)'/g)].map((match) => posix.join(posix.dirname(file), match[1] ?? '')),
  ]),
);

it('every file imports only what stands below its room', () => {
  const upwards = [...imports].flatMap(([file, imported]) =>
    imported.filter((other) => roomOf(file) < 0 || roomOf(other) > roomOf(file)).map((other) => `${file} → ${other}`),
  );
  expect(upwards).toEqual([]);
});

it('no file imports one that imports it, by whatever way round', () => {
  const done = new Set<string>();
  const circles: string[] = [];
  const follow = (file: string, way: readonly string[]): void => {
    if (way.includes(file)) circles.push([...way.slice(way.indexOf(file)), file].join(' → '));
    if (way.includes(file) || done.has(file)) return;
    for (const other of imports.get(file) ?? []) follow(other, [...way, file]);
    done.add(file);
  };
  for (const file of imports.keys()) follow(file, []);
  expect(circles).toEqual([]);
});

it('the core reads no current folder', () => {
  const path = /import \{[^}]*\bresolve\b[^}]*\} from 'node:path'/;
  const reads = files.filter(
    ({ text }) => /process\.(?:cwd|chdir)/.test(text) || (path.test(text) && /\bresolve\((?:'\.'|[\w.]+)\)/.test(text)),
  );
  expect(reads.map(({ file }) => file).filter((file) => file.startsWith('core/'))).toEqual([]);
});

it('paths on disk and paths in a theme are compared in one place each', () => {
  const comparing =
    /startsWith\(`[^`]*\/`\)|startsWith\([^)]*(?:\bsep\b|\+ '\/')|import \{[^}]*\b(?:relative|sep)\b[^}]*\} from 'node:path'/;
  const places = files.filter(({ text }) => comparing.test(text)).map(({ file }) => file);
  expect(places).toEqual(['core/files/file-tree.ts', 'core/files/paths.ts']);
});

it('a program that is started is looked for first, and never in the current folder', () => {
  const starting = files.filter(({ text }) => /from '(?:node:child_process|cross-spawn)'/.test(text));
  expect(starting.length).toBeGreaterThan(2);
  // This program itself is where Node.js says.
  const others = starting.filter(({ text }) => !text.includes('spawn(process.execPath'));
  expect(others.filter(({ text }) => !text.includes('disk-programs.ts')).map(({ file }) => file)).toEqual([]);
});

it('the picture in CONTRIBUTING.md is the one that is held', () => {
  expect(readFileSync(join(SOURCES, '../CONTRIBUTING.md'), 'utf8')).toContain(picture());
});
