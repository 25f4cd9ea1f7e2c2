export { submissionContents } from './submission-contents.ts';
