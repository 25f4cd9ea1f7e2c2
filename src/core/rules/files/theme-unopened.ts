import type { Rule } from '../rule.ts';

/** What was to be checked and could not be opened: told by whoever opens it, since there is not a theme to look at. */
export const themeUnopened: Rule = {
  meta: {
    id: 'theme/unopened',
    severity: 'error',
    summary: 'What was to be checked cannot be opened as a theme',
    why: 'A host does not list what it does not recognise, and the other themes of a run must be checked all the same.',
    messages: { unopened: '{what}', configuration: '{what}' },
    example: { none: 'it is about folders that are not themes, files in their place, and configuration files that are wrong' },
  },
};
