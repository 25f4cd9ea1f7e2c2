import { join, resolve } from 'node:path';
import { buildSync } from 'esbuild';

/** Helpers that the tests have for the real hosts, bundled to be used here: tests/support/NAME.ts. */
export async function support(name) {
  const outfile = resolve(`node_modules/.cache/shots/${name}.mjs`);
  buildSync({ entryPoints: [`tests/support/${name}.ts`], outfile, bundle: true, platform: 'node', format: 'esm', packages: 'external' });
  return import(outfile);
}

/** A folder as the tests’ helpers take it. */
export function placeAt(root) {
  return { folder: root, path: (...parts) => join(root, ...parts) };
}
