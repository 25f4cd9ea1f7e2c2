import { deflateBlocks, type DeflateWork } from './deflated-ahead.ts';

/** What the second thread does of a package: see {@link deflateBlocks}. */
export function deflateAhead(work: DeflateWork): void {
  deflateBlocks(work);
}
