import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** The folder in which {@link ./compiled.cjs} keeps what it compiles: one for each test run. */
export default function compiledOnce(): () => void {
  const folder = mkdtempSync(join(process.env['TMPDIR'] ?? tmpdir(), 'pionero-compiled-'));
  // Some tests start the program as somebody else.
  chmodSync(folder, 0o755);
  process.env['PIONERO_TESTS_COMPILED'] = folder;
  return () => rmSync(folder, { recursive: true, force: true });
}
