export { licenseTextRule } from './license-text.ts';
export { licenseUnknown } from './license-unknown.ts';
