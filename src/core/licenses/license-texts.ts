import { fileURLToPath } from 'node:url';
import { join } from 'node:path';
import { filesOf, readIfThere } from '../files/disk.ts';

/** The texts of the licenses that the Open Source Initiative or Creative Commons keep, by SPDX id. scripts/build.mjs writes them. */
function folder(): string {
  // The program lies in `dist/`, beside them; the sources in `src/core/licenses/`.
  const here = fileURLToPath(new URL('.', import.meta.url));
  return /[/\\]src[/\\]/.test(here) ? join(here, '../../../dist/licenses') : join(here, 'licenses');
}

const texts = new Map<string, string | undefined>();

/** The text of a license, with `<year>` and `<copyright holders>` to be filled in; undefined when it is not at hand. */
export function licenseText(id: string): string | undefined {
  if (!/^[\w.+-]+$/.test(id)) return undefined;
  if (!texts.has(id)) texts.set(id, readIfThere(join(folder(), `${id}.txt`))?.toString('utf8'));
  return texts.get(id);
}

/** The ids of all licenses whose texts are at hand, sorted. */
export function licensesAtHand(): readonly string[] {
  return filesOf(folder())
    .filter((name) => name.endsWith('.txt'))
    .map((name) => name.slice(0, -'.txt'.length))
    .sort();
}
