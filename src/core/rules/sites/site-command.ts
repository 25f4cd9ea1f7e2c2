import { onSite } from './on-site.ts';

export const siteCommand = onSite(
  'command',
  'A site’s command fails with the theme',
  'Nobody sees a page that the host cannot build or serve.',
);
