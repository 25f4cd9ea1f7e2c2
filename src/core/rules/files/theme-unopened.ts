import type { Rule } from '../rule.ts';

/** A theme that could not be opened: whoever opens it reports it, since there is not a theme to look at. */
export const themeUnopened: Rule = {
  meta: {
    id: 'theme/unopened',
    severity: 'error',
    summary: 'What was to be checked cannot be opened as a theme',
    why: 'A host does not list what it does not recognize, and the other themes of a run must be checked all the same.',
    messages: { unopened: '{what}', configuration: '{what}' },
    example: { none: 'it is about folders that are not themes, files in their place, and configuration files that are wrong' },
  },
};
