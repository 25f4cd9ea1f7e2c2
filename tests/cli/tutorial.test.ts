import { readFileSync } from 'node:fs';
import { delimiter, join } from 'node:path';
import { expect, it } from 'vitest';
import { runTool } from '../support/needs.ts';
import { PROGRAM, Workplace } from '../support/program.ts';
import { writeFiles } from '../support/trees.ts';

const PAGE = readFileSync(join(import.meta.dirname, '../../docs/start.md'), 'utf8');

/** Sizes of packed files differ from one release of Node.js to another. */
const withoutSizes = (text: string): string => text.replace(/[\d.]+ k?B\b/g, 'N B');

it('docs/start.md goes from nothing to a packed theme, and prints what it shows', () => {
  const place = new Workplace();
  writeFiles(place.folder, { '.bin/pionero': `#!/bin/sh\nexec "${process.execPath}" "${PROGRAM}" "$@"\n` });
  runTool('sh', ['-c', 'chmod +x .bin/pionero'], { cwd: place.folder });
  const env = { ...place.env, NO_COLOR: '1', PATH: [place.path('.bin'), process.env['PATH']].join(delimiter) };
  const steps = [...PAGE.matchAll(/```sh\n([^]*?)```\n(?:\n```text\n([^]*?)```)?/g)];
  expect(steps.length).toBeGreaterThan(6);
  for (const [, commands = '', shown = ''] of steps) {
    const { stdout, stderr } = runTool('bash', ['-c', commands], { cwd: place.folder, env });
    expect(withoutSizes(stdout + stderr).trimEnd()).toBe(withoutSizes(shown).trimEnd());
  }
}, 120_000);
