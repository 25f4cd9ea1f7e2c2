export { identifierBegunRename } from './identifier-begun-rename.ts';
export { identifierMisspelt } from './identifier-misspelt.ts';
export { identifierOtherName } from './identifier-other-name.ts';
export { identifierOwnName } from './identifier-own-name.ts';
export { identifierPrefix } from './identifier-prefix.ts';
export { identifierUnique } from './identifier-unique.ts';
