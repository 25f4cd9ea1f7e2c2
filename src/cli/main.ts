import { ExitStatus } from './exit-status.ts';
import type { Io } from './io.ts';

/** Put in by the build, from package.json. */
declare const PIONERO_VERSION: string;

/** Runs a command line, and loads for it no more than it needs. */
export const run: typeof import('./run.ts').run = async (...given) => (await import('./run.ts')).run(...given);

/** The program: takes the process's arguments, and sets the status that it exits with. Never rejects. */
export async function main(): Promise<void> {
  try {
    await runProcess();
  } catch (error) {
    process.stderr.write(`Pionero failed: ${String(error)}\n`);
    process.exitCode = ExitStatus.defect;
  }
}

async function runProcess(): Promise<void> {
  const argv = process.argv.slice(2);
  // The commonest question of scripts and editors is answered without loading anything.
  if (argv.length === 1 && (argv[0] === '--version' || argv[0] === '-V')) {
    process.stdout.write(`${PIONERO_VERSION}\n`);
    return;
  }
  const { processIo } = await import('./io.ts');
  let io: Io;
  try {
    io = processIo();
  } catch {
    process.stderr.write('✗ The folder that you are in is not there any more.\n  → Change to another one, and run it again.\n');
    process.exitCode = ExitStatus.usage;
    return;
  }
  process.exitCode = await run(argv, io, PIONERO_VERSION);
  process.exitCode = await afterOutput(io, process.exitCode);
}

/** A script must not take a result that could not be written for one. */
async function afterOutput({ outputFailure }: Io, status: number): Promise<number> {
  const failure = await outputFailure();
  if (failure === undefined) return status;
  const { systemReason } = await import('../core/errors.ts');
  process.stderr.write(`✗ The output could not be written: ${systemReason(failure)}.\n`);
  return ExitStatus.failed;
}
