import type { Rule } from '../rule.ts';

/** A rule whose findings only a real host makes: see core/sites. There is no theme to look at for them. */
export function onSite(name: string, summary: string, why: string): Rule {
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
