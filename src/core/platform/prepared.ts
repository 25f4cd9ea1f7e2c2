import { createHash } from 'node:crypto';
import { fileURLToPath } from 'node:url';
import { readIfThere } from '../files/disk.ts';
import type { SourceDocument } from '../text/source-document.ts';
import type { PlatformContract } from './schema.ts';

/** The shipped platform files as the build has read them, by the SHA-256 of their text. scripts/build.mjs writes it. */
let prepared: ReadonlyMap<string, PlatformContract> | undefined;

/**
 * A shipped platform file's contract as the build has read and validated it, which takes most of the time of a short
 * command. Undefined for any other file, for a file that was changed since, and where there is no build.
 */
export function preparedContract(source: SourceDocument): PlatformContract | undefined {
  prepared ??= readPrepared();
  return prepared.size === 0 ? undefined : prepared.get(createHash('sha256').update(source.text).digest('hex'));
}

function readPrepared(): ReadonlyMap<string, PlatformContract> {
  const bytes = readIfThere(fileURLToPath(new URL('platforms.json', import.meta.url)));
  return new Map(bytes === undefined ? [] : Object.entries(JSON.parse(bytes.toString('utf8')) as Record<string, PlatformContract>));
}
