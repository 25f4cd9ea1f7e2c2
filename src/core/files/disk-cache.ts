import { mkdirSync, readdirSync, readFileSync, renameSync, statSync, unlinkSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { randomUUID } from 'node:crypto';

/** Beyond this many entries the oldest half is dropped. */
const MAX_ENTRIES = 20_000;

/**
 * Texts kept on disk under their keys, to be had again in a later run. It can be deleted at any time: what cannot be read or
 * written is not there, and nobody is told.
 */
export class DiskCache {
  readonly #folder: string;
  #hasWritten = false;

  /** @param folder absolute; made when something is first kept */
  constructor(folder: string) {
    this.#folder = folder;
  }

  /** @param key letters and digits only */
  find(key: string): string | undefined {
    try {
      return readFileSync(this.#path(key), 'utf8');
    } catch {
      return undefined;
    }
  }

  keep(key: string, text: string): void {
    const path = this.#path(key);
    const temporary = `${path}.${randomUUID()}`;
    try {
      mkdirSync(join(path, '..'), { recursive: true });
      writeFileSync(temporary, text);
      // Whole or not at all: another run may read it meanwhile.
      renameSync(temporary, path);
    } catch {
      return;
    }
    if (!this.#hasWritten) this.#prune();
    this.#hasWritten = true;
  }

  #path(key: string): string {
    return join(this.#folder, key.slice(0, 2), key);
  }

  #prune(): void {
    try {
      const files = readdirSync(this.#folder, { recursive: true, encoding: 'utf8' }).filter((name) => dirname(name) !== '.');
      if (files.length <= MAX_ENTRIES) return;
      const aged = files.map((name) => ({ path: join(this.#folder, name), time: statSync(join(this.#folder, name)).mtimeMs }));
      aged.sort((a, b) => a.time - b.time);
      for (const { path } of aged.slice(0, aged.length / 2)) unlinkSync(path);
    } catch {
      // Another run may prune at the same time.
    }
  }
}
