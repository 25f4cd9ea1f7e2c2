import { cpSync, writeFileSync } from 'node:fs';
import { DEMO_SHELF, type Workplace } from './program.ts';
import { writeFiles } from './trees.ts';

/** A command that works, what is done before it, and whether it changes files, and so can be taken back. */
export interface CommandRow {
  readonly line: string;
  readonly before?: readonly string[];
  readonly changes?: boolean;
  readonly status?: number;
}

const CHILD = 'new cierzo --parent albar --shelf shelf --to shelf --yes';
const OVERRIDE = 'override shelf/cierzo partials/header.html --needs take --yes';
export const COMMAND_ROWS: readonly CommandRow[] = [
  { line: 'name refugio --platform vereda --shelf shelf' },
  { line: 'new lumbre --platform vereda --yes', changes: true },
  { line: CHILD, changes: true },
  { line: 'check shelf/albar shelf/albar-noche' },
  { line: 'check shelf/*', status: 1 },
  { line: 'check shelf/cornisa --fix --yes', changes: true, status: 1 },
  { line: 'meta show shelf/albar' },
  { line: 'meta show shelf' },
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

/** Makes a shelf, a site, and what goes before a command. */
export async function prepare(place: Workplace, { before = [] }: CommandRow): Promise<void> {
  cpSync(DEMO_SHELF, place.path('shelf'), { recursive: true });
  writeFiles(place.folder, { 'site/themes/.keep': '' });
  for (const step of before) await make(place, step);
}

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
