export { factAgrees } from './fact-agrees.ts';
export { idAgrees } from './id-agrees.ts';
export { idGrammar } from './id-grammar.ts';
export { rangeReleases } from './range-releases.ts';
export { titleUnique } from './title-unique.ts';
export { versionChangelog } from './version-changelog.ts';
export { versionTag } from './version-tag.ts';
