export { overrideRecord } from './override-record.ts';
export { parentMissing } from './parent-missing.ts';
export { parentReleases } from './parent-releases.ts';
export { parentStyles } from './parent-styles.ts';
export { parentVersion } from './parent-version.ts';
