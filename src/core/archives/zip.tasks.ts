/** What the second thread does of a package. */
export { deflateBlocks, holdsFiles } from './deflated-ahead.ts';
