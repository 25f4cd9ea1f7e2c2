/** What the second thread does of a package. */
export { deflateBlocks, zipHolds } from './deflate-blocks.ts';
