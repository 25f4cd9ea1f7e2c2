import { onSite } from './on-site.ts';

export const siteFailure = onSite(
  'failure',
  'The host says that something is wrong',
  'The host’s own word about a mistake, with its place in the theme where it says one.',
);
