#!/usr/bin/env node
import { ExitStatus } from './exit-status.ts';

/** Put in by the build, from package.json. */
declare const PIONERO_VERSION: string;

async function main(): Promise<void> {
  const argv = process.argv.slice(2);
  // The commonest question of scripts and editors is answered without loading anything.
  if (argv.length === 1 && (argv[0] === '--version' || argv[0] === '-V')) {
    process.stdout.write(`${PIONERO_VERSION}\n`);
    return;
  }
  const [{ run }, { processIo }] = await Promise.all([import('./run.ts'), import('./io.ts')]);
  process.exitCode = await run(argv, processIo(), PIONERO_VERSION);
}

main().catch((error: unknown) => {
  process.stderr.write(`Pionero failed: ${String(error)}\n`);
  process.exitCode = ExitStatus.defect;
});
