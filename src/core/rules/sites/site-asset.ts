import { onSite } from './on-site.ts';

export const siteAsset = onSite(
  'asset',
  'A page asks for a file that is not there',
  'A browser asks for it at every visit and gets an error.',
);
