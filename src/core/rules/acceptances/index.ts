export { acceptUnused } from './accept-unused.ts';
