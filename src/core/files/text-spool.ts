import { StringDecoder } from 'node:string_decoder';
import { temporaryFolder } from './disk.ts';
import { Spool } from './disk-spool.ts';

/** Characters that wait in memory: a text that stays below needs no file. */
const MOST_IN_MEMORY = 4 << 20;

/** A text that is put together piece by piece and read afterward; what is more than memory should hold waits on the disk. */
export class TextSpool {
  readonly #most: number;
  #file: ReturnType<Spool['begin']> | undefined;
  #pieces: string[] = [];
  #length = 0;

  /** @param most characters that are kept in memory */
  constructor(most = MOST_IN_MEMORY) {
    this.#most = most;
  }

  add(text: string): void {
    this.#pieces.push(text);
    this.#length += text.length;
    if (this.#length <= this.#most) return;
    this.#file ??= new Spool(temporaryFolder()).begin();
    this.#file.append(Buffer.from(this.#pieces.join('')));
    this.#pieces = [];
    this.#length = 0;
  }

  /** The text from its beginning, in pieces. Nothing can be added afterward. */
  *texts(): Generator<string> {
    const decoder = new StringDecoder('utf8');
    for (const part of this.#file?.end().parts() ?? []) yield decoder.write(part);
    yield* this.#pieces;
  }
}
