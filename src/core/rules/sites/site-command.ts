import { onSite } from './on-site.ts';

export const siteCommand = onSite('command', 'A site’s command fails with the theme', 'What the host cannot build or serve nobody sees.');
