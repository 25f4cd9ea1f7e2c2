// Runs what people run most, and keeps what the engine made of it: at the build, and where it is installed.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setFlagsFromString } from 'node:v8';
import { Bundle } from './bundle.ts';
import { processIo, type Io } from './io.ts';

const folder = mkdtempSync(join(tmpdir(), 'pionero-code-'));
process.env['TMPDIR'] = folder;
const silent = { write: () => true };
const env = { XDG_STATE_HOME: folder, XDG_CONFIG_HOME: folder, XDG_CACHE_HOME: folder };
const io: Io = { ...processIo(), stdout: silent, stderr: silent, folder, env, isInteractive: false, hasColor: true };
const bundle = new Bundle(import.meta.dirname);
try {
  for (const argv of [['--help'], ['demo']]) await bundle.program.run(argv, io, '');
  // Commands that hold much set it; what is kept under another setting of the engine is not taken.
  setFlagsFromString('--heap-growing-percent=0');
  bundle.keep();
} finally {
  rmSync(folder, { recursive: true, force: true });
}
