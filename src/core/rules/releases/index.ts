export { releaseChanged } from './release-changed.ts';
export { releaseField } from './release-field.ts';
export { releasePage } from './release-page.ts';
