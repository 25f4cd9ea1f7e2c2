export { regionUndeclared } from './region-undeclared.ts';
export { regionUnprinted } from './region-unprinted.ts';
