import { isDeepStrictEqual } from 'node:util';
import { expect, it } from 'vitest';
import { COMMANDS } from '../../src/cli/command-table.ts';
import { COMMAND_ROWS, prepare } from '../support/command-rows.ts';
import { Workplace, type Outcome } from '../support/program.ts';
import { snapshot } from '../support/trees.ts';

/** Needs a server, or shows what the rows do: tested apart. */
const APART = ['submit', 'catalogue', 'demo', 'language-server'];

/** What is shown is the same on all systems, but for absolute places. */
const withoutPlaces = ({ stdout, stderr }: Outcome, place: Workplace): string => (stdout + stderr).replaceAll(place.folder, '');

it.each(COMMAND_ROWS)('$line works, and undo takes back what it did', async (row) => {
  const { line, changes, status = 0 } = row;
  const place = new Workplace();
  await prepare(place, row);
  const then = files(place);
  const outcome = await place.run(...line.split(' '));
  expect([outcome.status, outcome.stdout + outcome.stderr]).toEqual([status, expect.stringMatching(/\S/)]);
  const shown = line.startsWith('completion') ? '' : withoutPlaces(outcome, place);
  expect(shown).not.toMatch(/\\|\bat .*:\d+:\d+\)/);
  const now = files(place);
  expect(isDeepStrictEqual(now, then)).toBe(changes === undefined);
  const undone = changes === true ? await place.run('undo', '--yes') : { status: 0 };
  expect(undone).toMatchObject({ status: 0 });
  expect(files(place)).toEqual(changes === true ? then : now);
});

function files(place: Workplace): Record<string, string> {
  return Object.fromEntries(Object.entries(snapshot(place.folder)).filter(([path]) => !/^\.(?:state|cache|config)/.test(path)));
}

it('no command is without a row', () => {
  const named = new Set([...COMMAND_ROWS.map(({ line }) => line.split(' ')[0]), ...APART]);
  expect(COMMANDS.map(({ name }) => name).filter((name) => !named.has(name))).toEqual([]);
});
