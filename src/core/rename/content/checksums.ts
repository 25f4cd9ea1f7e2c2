import { createHash } from 'node:crypto';
import type { TextEdit } from '../../text/edits.ts';

/** A checksum as pages and manifests state it: W3C Subresource Integrity, section 3.5. */
const CHECKSUM = /\b(sha(?:256|384|512))-([A-Za-z0-9+/]{42,86}={0,2})/g;

/** A checksum that a file states of another one. */
export interface StatedChecksum {
  readonly algorithm: string;
  readonly digest: string;
  /** Where the digest stands. */
  readonly start: number;
  readonly end: number;
}

export function findChecksums(text: string): StatedChecksum[] {
  return [...text.matchAll(CHECKSUM)].map((match) => {
    const [whole, algorithm = '', digest = ''] = match;
    return { algorithm, digest, start: match.index + whole.length - digest.length, end: match.index + whole.length };
  });
}

/** Of bytes, in base64. */
export function digestOf(algorithm: string, bytes: Buffer): string {
  return createHash(algorithm).update(bytes).digest('base64');
}

/** A checksum before a change, and after it: `sha384 OLD` → NEW. */
export type ChangedDigests = ReadonlyMap<string, string>;

/** The digests of one file before and after its change, in the algorithms that anything states. */
export function* changedDigests(algorithms: ReadonlySet<string>, before: Buffer, after: Buffer): Generator<[string, string]> {
  for (const algorithm of algorithms) yield [`${algorithm} ${digestOf(algorithm, before)}`, digestOf(algorithm, after)];
}

/** Rewrites the checksums that were right before the change and are not after it. */
export function checksumEdits(stated: readonly StatedChecksum[], changed: ChangedDigests): TextEdit[] {
  return stated.flatMap(({ algorithm, digest, start, end }) => {
    const text = changed.get(`${algorithm} ${digest}`);
    return text === undefined ? [] : [{ start, end, text }];
  });
}
