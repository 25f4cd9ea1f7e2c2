import { readFileSync, renameSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { basename, join } from 'node:path';
import { Script } from 'node:vm';
import type { ExitStatus } from './exit-status.ts';
import type { Io } from './io.ts';

/** What the program's bundle gives: see main.ts, which it is made from. */
export interface Program {
  main(): Promise<void>;
  run(argv: readonly string[], io: Io, version: string): Promise<ExitStatus>;
}

/**
 * The program as the build has bundled it. Reading and compiling a megabyte of code takes longer than most commands:
 * what the engine made of it is kept beside it, and taken from there as long as the engine is the same.
 */
export class Bundle {
  readonly #folder: string;
  readonly #scripts = new Map<string, Script>();
  readonly #exports = new Map<string, unknown>();

  /** @param folder where the build has put everything; absolute */
  constructor(folder: string) {
    this.#folder = folder;
  }

  get program(): Program {
    return this.#load('program.cjs') as Program;
  }

  /** The files that were loaded, and whether what the engine kept of them was taken. */
  get loaded(): ReadonlyMap<string, boolean> {
    return new Map([...this.#scripts].map(([file, { cachedDataRejected }]) => [basename(file), cachedDataRejected === false]));
  }

  /** Keeps what was compiled since, for the next start. */
  keep(): void {
    for (const [file, script] of this.#scripts) {
      // The engine believes what it is given: half a file is worse than none.
      writeFileSync(`${codeOf(file)}.part`, script.createCachedData());
      renameSync(`${codeOf(file)}.part`, codeOf(file));
    }
  }

  #load(name: string): unknown {
    const known = this.#exports.get(name);
    if (known !== undefined) return known;
    const file = join(this.#folder, name);
    // The build writes nothing but ASCII, which is read quickest like this.
    const source = `(function (exports, require, module, __filename) {${readFileSync(file, 'latin1')}\n})`;
    const script = new Script(source, { filename: file, cachedData: readIfThere(codeOf(file)) });
    this.#scripts.set(file, script);
    const others = createRequire(file);
    const require = (id: string): unknown => (/^\.\/(?:packages\/|core\.)/.test(id) ? this.#load(id.slice(2)) : others(id));
    const module: { exports: unknown } = { exports: {} };
    const body = script.runInThisContext() as (...given: unknown[]) => void;
    body.call(module.exports, module.exports, require, module, file);
    this.#exports.set(name, module.exports);
    return module.exports;
  }
}

const codeOf = (file: string): string => file.replace(/cjs$/, 'code');

function readIfThere(file: string): Buffer | undefined {
  try {
    return readFileSync(file);
  } catch {
    // It only saves time.
    return undefined;
  }
}
