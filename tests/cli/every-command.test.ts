import { cpSync, writeFileSync } from 'node:fs';
import { isDeepStrictEqual } from 'node:util';
import { expect, it } from 'vitest';
import { COMMANDS } from '../../src/cli/command-table.ts';
import { DEMO_SHELF, Workplace, type Outcome } from '../support/program.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

/** A command that works, what is done before it, and whether it changes files, and so can be taken back. */
interface Row {
  readonly line: string;
  readonly before?: readonly string[];
  readonly changes?: boolean;
  readonly status?: number;
}

const CHILD = 'new cierzo --parent albar --shelf shelf --to shelf --yes';
const OVERRIDE = 'override shelf/cierzo partials/header.html --needs take --yes';
const ROWS: readonly Row[] = [
  { line: 'name refugio --platform vereda --shelf shelf' },
  { line: 'new lumbre --platform vereda --yes', changes: true },
  { line: CHILD, changes: true },
  { line: 'check shelf/albar shelf/albar-noche' },
  { line: 'check shelf/*', status: 1 },
  { line: 'check shelf/cornisa --fix --yes', changes: true, status: 1 },
  { line: 'meta show shelf/albar' },
  { line: 'meta set shelf/albar title=Cumbre --yes', changes: true },
  { line: 'meta bump minor shelf/albar --yes', changes: true },
  { line: 'upgrade shelf/albar-noche --release 4' },
  { line: 'upgrade shelf/albar --release 5 --yes', changes: true, status: 1 },
  { line: 'clone shelf/albar lumbre --yes', changes: true },
  { line: 'rename shelf/albar cumbre --yes', changes: true },
  { line: 'rename shelf/albar-noche noche --yes', changes: true },
  { line: 'cover shelf/albar --force --yes', changes: true },
  { line: 'pack shelf/albar --out shelf/albar.zip', changes: false },
  { line: 'pack shelf/albar --for submission --out handed-in --yes', changes: true },
  { line: 'rehearse shelf/albar-noche' },
  { line: 'rehearse shelf/albar-noche --out pages', changes: false },
  { line: 'install shelf/albar --to site --yes', changes: true },
  { line: 'trace shelf/albar-noche' },
  { line: 'trace shelf/albar-noche partials/header.html' },
  { line: OVERRIDE, before: [CHILD], changes: true },
  { line: 'drift shelf/cierzo --merge --yes', before: [CHILD, OVERRIDE, 'PARENT'], changes: true },
  { line: 'harvest export --to shelf/albar --base shelf/albar --yes', before: ['EXPORT'], changes: true },
  { line: 'platform list' },
  { line: 'platform show vereda' },
  { line: 'platform check vereda' },
  { line: 'platform check vereda shelf/albar' },
  { line: 'platform new shelf/albar --name sendero --yes', changes: false },
  { line: 'kit list --platform vereda' },
  { line: 'kit make shelf/albar --yes', changes: true },
  { line: 'report merge one.json two.json', before: ['REPORTS'], status: 1 },
  { line: 'cache show' },
  { line: 'explain template/partial' },
  { line: 'undo --list', before: ['meta set shelf/albar title=Cumbre --yes'] },
  { line: 'completion bash' },
];

/** Needs a server, or shows what the rows above do: tested apart. */
const APART = ['submit', 'catalogue', 'demo', 'language-server'];

async function make(place: Workplace, step: string): Promise<void> {
  if (step === 'PARENT') writeFileSync(place.path('shelf/albar/partials/header.html'), '<header>{{site.title}}</header>\n');
  else if (step === 'EXPORT') {
    cpSync(place.path('shelf/albar'), place.path('export/albar'), { recursive: true });
    writeFileSync(place.path('export/albar/pages/list.html'), '<p>of the site</p>\n');
  } else if (step === 'REPORTS') {
    for (const [i, name] of ['one', 'two'].entries())
      writeFileSync(place.path(`${name}.json`), (await place.run('check', 'shelf', '--shard', `${i + 1}/2`, '--format', 'json')).stdout);
  } else {
    const { status, stderr } = await place.run(...step.split(' '));
    if (status !== 0) throw new Error(`${step}: ${stderr}`);
  }
}

/** What is shown is the same on all systems, but for absolute places. */
const withoutPlaces = ({ stdout, stderr }: Outcome, place: Workplace): string => (stdout + stderr).replaceAll(place.folder, '');

it.each(ROWS)('$line works, and undo takes back what it did', async ({ line, before = [], changes, status = 0 }) => {
  const place = new Workplace();
  cpSync(DEMO_SHELF, place.path('shelf'), { recursive: true });
  writeFiles(place.folder, { 'site/themes/.keep': '' });
  for (const step of before) await make(place, step);
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
  const named = new Set([...ROWS.map(({ line }) => line.split(' ')[0]), ...APART]);
  expect(COMMANDS.map(({ name }) => name).filter((name) => !named.has(name))).toEqual([]);
});
