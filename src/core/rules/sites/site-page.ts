import { onSite } from './on-site.ts';

export const sitePage = onSite(
  'page',
  'A page of the site is not what it must be',
  'It is missing, answered with an error, or does not hold what makes it that page.',
);
