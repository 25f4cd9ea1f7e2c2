export { bundleUnknown } from './bundle-unknown.ts';
export { bundleUnused } from './bundle-unused.ts';
