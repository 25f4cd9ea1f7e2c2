import type { Rule } from '../rule.ts';

/** A rule whose findings only a real host makes: see core/sites. There is no theme to look at for them. */
function onSite(name: string, summary: string, why: string): Rule {
  return {
    meta: {
      id: `site/${name}`,
      severity: 'error',
      summary,
      why,
      messages: { [name]: '{what}' },
      example: { none: 'a real host makes it, in “pionero rehearse --site”' },
    },
  };
}

export const siteCommand = onSite('command', 'A site’s command fails with the theme', 'What the host cannot build or serve nobody sees.');
export const siteFailure = onSite(
  'failure',
  'The host says that something is wrong',
  'The host’s own word about a mistake, with its place in the theme where it says one.',
);
export const sitePage = onSite(
  'page',
  'A page of the site is not what it must be',
  'It is missing, answered with an error, or does not hold what makes it that page.',
);
export const siteAsset = onSite(
  'asset',
  'A page asks for a file that is not there',
  'A browser asks for it at every visit and gets an error.',
);
