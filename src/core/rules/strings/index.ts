export { stringsIncomplete } from './strings-incomplete.ts';
export { stringsKey } from './strings-key.ts';
export { stringsLanguage } from './strings-language.ts';
export { stringsName } from './strings-name.ts';
export { stringsSyntax } from './strings-syntax.ts';
export { stringsUndefined } from './strings-undefined.ts';
