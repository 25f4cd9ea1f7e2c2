import { brotliCompressSync, brotliDecompressSync, gunzipSync, gzipSync } from 'node:zlib';
import { mo } from 'gettext-parser';
import { parsePo } from '../../documents/po-messages.ts';
import type { ReasonCode } from '../reason.ts';

/** A file that is made from another one, whose bytes follow when that one changes. */
export interface Companion {
  /** The ending of the file's name, and the ending of its origin's name instead. */
  readonly ending: string;
  readonly origin: string;
  /** Makes it again; undefined when it was not made from the origin as it was, or cannot be made here. */
  remake(bytes: Buffer, before: Buffer, after: Buffer): Buffer | undefined;
  readonly isMade: string;
  readonly isStale: ReasonCode;
}

/**
 * A companion that holds its origin in another form: it is remade when it really held what the origin was. More
 * than that is not unpacked: it may be a bomb.
 */
function twin(
  ending: string,
  unpack: (bytes: Buffer, limits: { maxOutputLength: number }) => Buffer,
  pack: (bytes: Buffer) => Buffer,
): Companion {
  return {
    ending,
    origin: '',
    remake: (bytes, before, after) => (unpack(bytes, { maxOutputLength: before.length + 1 }).equals(before) ? pack(after) : undefined),
    isMade: 'compressed again',
    isStale: 'stale-copy',
  };
}

export const COMPANIONS: readonly Companion[] = [
  twin('.gz', gunzipSync, (bytes) => gzipSync(bytes, { level: 9 })),
  twin('.br', brotliDecompressSync, (bytes) => brotliCompressSync(bytes)),
  {
    ending: '.mo',
    origin: '.po',
    remake: (bytes, before, after) => (isSameCatalogue(bytes, before) ? mo.compile(parsePo(after)) : undefined),
    isMade: 'compiled again',
    isStale: 'stale-catalogue',
  },
  {
    ending: '.map',
    origin: '',
    remake: () => undefined,
    isMade: '',
    isStale: 'stale-map',
  },
];

/** Whether a compiled catalogue matches its source; who saved either last, and when, does not count. */
function isSameCatalogue(compiled: Buffer, source: Buffer): boolean {
  const [own, other] = [parsePo(source), mo.parse(compiled)];
  const head = other.translations['']?.[''];
  const messages = own.translations[''];
  if (head !== undefined && messages !== undefined) messages[''] = head;
  own.headers = other.headers;
  return mo.compile(own).equals(mo.compile(other));
}
