import { cpSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { shippedFolder } from '../../core/platform/load.ts';
import { defineCommand, type Context } from '../command.ts';
import { ExitStatus } from '../exit-status.ts';

/** One step of the demo: what it is for, then a command line, or a mistake made by hand. */
type Step =
  | { readonly about: string; readonly argv: readonly string[]; readonly expected?: ExitStatus }
  | { readonly about: string; readonly edit: { readonly file: string; readonly find: string; readonly replacement: string } };

const STEPS: readonly Step[] = [
  {
    about: 'A child of the theme albar, made from a kit',
    argv: ['new', 'cierzo', '--platform', 'vereda', '--parent', 'albar', '--shelf', 'shelf', '--title', 'Refugio Cierzo', '--yes'],
  },
  { about: 'Is it right?', argv: ['check', 'shelf/cierzo'] },
  {
    about: 'A mistake: the parent’s name with a capital',
    edit: { file: 'shelf/cierzo/sheet.css', find: 'parent: albar', replacement: 'parent: Albar' },
  },
  {
    about: 'Another: the line that loads the parent’s styles is lost',
    edit: { file: 'shelf/cierzo/sheet.css', find: 'parent-sheet: before\n', replacement: '' },
  },
  { about: 'Both are found …', argv: ['check', 'shelf/cierzo'], expected: ExitStatus.findings },
  { about: '… and fixed', argv: ['check', 'shelf/cierzo', '--fix', '--yes'] },
  { about: 'A theme of its own: albar under another name', argv: ['clone', 'shelf/albar', 'lumbre', '--yes'] },
  { about: 'A better name for it', argv: ['rename', 'shelf/lumbre', 'cumbre-sur', '--yes', '--quiet'] },
  { about: 'On second thought, the old one', argv: ['undo', '--yes'] },
  { about: 'The archive that one uploads', argv: ['pack', 'shelf/lumbre'] },
  { about: 'Would a host take it?', argv: ['rehearse', 'lumbre.zip'] },
  { about: 'All that a public directory asks for', argv: ['pack', 'shelf/lumbre', '--for', 'submission', '--yes'] },
  { about: 'And the child, with its parent', argv: ['rehearse', 'shelf/cierzo', '--out', 'site'] },
];

export default defineCommand({
  arguments: [],
  options: {},
  examples: ['pionero demo'],
  async run(context) {
    const { paint } = context;
    const folder = mkdtempSync(join(tmpdir(), 'pionero-demo-'));
    cpSync(join(dirname(shippedFolder()), 'demo', 'shelf'), join(folder, 'shelf'), { recursive: true });
    for (const [index, step] of STEPS.entries()) {
      context.print(`\n${paint.strong(`${index + 1}. ${step.about}`)}`);
      if ('edit' in step) makeMistake(context, folder, step.edit);
      else if ((await carryOut(context, folder, step.argv)) !== (step.expected ?? ExitStatus.ok)) return ExitStatus.findings;
    }
    context.print(
      `\n${paint.good('✓')} ${paint.strong('Everything lies in')} ${folder}\n` +
        `  Open ${folder}/site/front.html with a browser, then try there:\n` +
        `    ${paint.name('pionero check shelf/cornisa')}            a theme full of mistakes\n` +
        `    ${paint.name('pionero check shelf/cornisa --fix')}      fixes what has one right answer\n` +
        `    ${paint.name('pionero meta show shelf/cierzo')}         the facts, and where they stand\n` +
        `    ${paint.name('pionero rehearse shelf/cierzo --serve')}  the theme in a browser, while you change it\n` +
        `    ${paint.name('pionero undo')}                           undoes the last change`,
    );
    return ExitStatus.ok;
  },
});

type Mistake = Extract<Step, { readonly edit: object }>['edit'];

function makeMistake(context: Context, folder: string, { file, find, replacement }: Mistake): void {
  const path = join(folder, file);
  writeFileSync(path, readFileSync(path, 'utf8').replace(find, replacement));
  const { paint } = context;
  context.print(`  ${file}\n  ${paint.bad(`− ${find.trim()}`)}${replacement === '' ? '' : `\n  ${paint.good(`+ ${replacement.trim()}`)}`}`);
}

/** Runs a command as if it had been typed. */
async function carryOut(context: Context, folder: string, argv: readonly string[]): Promise<ExitStatus> {
  const { io, paint } = context;
  context.print(`${paint.faint('$')} ${paint.name(`pionero ${argv.map((word) => (/\s/.test(word) ? `"${word}"` : word)).join(' ')}`)}`);
  return context.runLine(argv, { ...io, folder, isInteractive: false });
}
