import { spawn } from 'node:child_process';
import { join } from 'node:path';
import type { CancellationToken, ExecuteCommandParams, WorkDoneProgressReporter } from 'vscode-languageserver/node';
import { RefusedError } from '../../core/errors.ts';
import { kindOnDisk } from '../../core/files/disk.ts';
import { ExitStatus } from '../exit-status.ts';
import { uriOf } from './places.ts';
import { renameTheme } from './rename.ts';
import { requireSaved } from './saved.ts';
import type { Session } from './session.ts';

/** The commands that an editor can run, each as a command line for a theme's folder and files of it. */
const LINES = {
  'pionero.rehearse': (folder: string) => ['rehearse', '--', folder],
  'pionero.pack': (folder: string) => ['pack', '--yes', '--', folder],
  'pionero.drift': (folder: string) => ['drift', '--', folder],
  'pionero.merge': (folder: string) => ['drift', '--merge', '--yes', '--', folder],
  'pionero.rename-rest': (folder: string, was = '') => ['rename', '--was', was, '--yes', '--', folder],
  'pionero.override': (folder: string, ...files: readonly string[]) => ['override', '--needs', 'take', '--yes', '--', folder, ...files],
} as const;

/** This one shows the changes and asks first, so it has no command line. */
const RENAME = 'pionero.rename';

export type CommandName = keyof typeof LINES | typeof RENAME;

export const COMMANDS = [...(Object.keys(LINES) as (keyof typeof LINES)[]), RENAME] as const;

/**
 * Runs a command of Pionero on what is saved, and tells what came of it: its first line in a message, all of it in the editor's log.
 * @throws RefusedError for a folder that is not a theme here, and when files are not saved
 */
export async function runCommand(
  session: Session,
  { command, arguments: given = [] }: ExecuteCommandParams,
  cancelled: CancellationToken,
  progress: WorkDoneProgressReporter,
): Promise<null> {
  const { connection, workspace, judge, context, client } = session;
  const name = COMMANDS.find((each) => each === command);
  const [folder = '', ...files] = given.map(String);
  const opened = folder === '' ? undefined : workspace.opened(folder);
  if (name === undefined || opened === undefined) throw new RefusedError({ what: `“${command}” needs the folder of a theme` });
  if (name === RENAME) return renameTheme(session, opened.theme, files[0] ?? '');
  requireSaved({ context, workspace }, folder);
  progress.begin(command, undefined, undefined, true);
  const isDone = await runAndTell(session, LINES[name](folder, ...files), cancelled);
  progress.done();
  judge.onDisk([folder]);
  if (client()?.window?.showDocument?.support === true && isDone)
    for (const place of files.map((file) => join(folder, file)))
      if (kindOnDisk(place) === 'file') void connection.window.showDocument({ uri: uriOf(place) });
  return null;
}

/** Runs a command line, and tells what came of it. @returns whether it was done */
export async function runAndTell(
  { connection, context }: Session,
  argv: readonly string[],
  cancelled: CancellationToken,
): Promise<boolean> {
  const { status, output } = await runProgram(argv, context.io.env, cancelled);
  if (cancelled.isCancellationRequested) return false;
  connection.console.log(output);
  const lines = output.split('\n').filter((each) => each.trim() !== '');
  const isDone = status === ExitStatus.ok;
  const told = lines.find((each) => each.startsWith(isDone ? '✓' : '✗')) ?? lines[0] ?? argv.join(' ');
  if (isDone) connection.window.showInformationMessage(told);
  else connection.window.showWarningMessage(told);
  return isDone;
}

/** This program again, in a process that can be ended. */
async function runProgram(
  argv: readonly string[],
  env: Readonly<Record<string, string | undefined>>,
  cancelled: CancellationToken,
): Promise<{ status: number; output: string }> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, [process.argv[1] ?? '', ...argv], {
      env: { ...env, NO_COLOR: '1' },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let output = '';
    for (const stream of [child.stdout, child.stderr]) stream.setEncoding('utf8').on('data', (text: string) => (output += text));
    cancelled.onCancellationRequested(() => child.kill('SIGINT'));
    child.on('error', (error) => resolve({ status: ExitStatus.failed, output: error.message }));
    child.on('close', (status) => resolve({ status: status ?? ExitStatus.failed, output }));
  });
}
