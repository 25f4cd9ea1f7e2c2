export { siteAsset } from './site-asset.ts';
export { siteCommand } from './site-command.ts';
export { siteFailure } from './site-failure.ts';
export { sitePage } from './site-page.ts';
