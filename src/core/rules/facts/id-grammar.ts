import { judgeName } from '../../platform/platform.ts';
import { isOwnOfHost } from '../../contents/serving.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'rename-folder': 'rename the folder',
  'rename-folder-to': 'rename the folder to “{to}”',
});

/** The theme's folder has a name that the platform does not take as an id. */
export const idGrammar: Rule = {
  meta: {
    id: 'id/grammar',
    severity: 'error',
    summary: 'The theme’s id breaks the platform’s grammar of ids',
    why: 'A host looks for themes by their folders’ names and passes over names that it does not take.',
    messages: { id: 'the id “{found}” cannot be used: {problem}', vendor: 'the vendor “{found}” cannot be used: {problem}' },
    example: { none: 'it is about the name of the theme’s folder' },
  },
  *check({ theme }) {
    const { id, vendor } = theme.platform.contract;
    for (const [kind, grammar, name] of [
      ['id', id, theme.names.id],
      ['vendor', vendor, theme.names.vendor],
    ] as const) {
      const verdict = grammar === undefined || name === undefined ? undefined : judgeName(name, grammar);
      // The host keeps its names for its own themes.
      if (verdict === undefined || (kind === 'id' && id.reserved.includes(name ?? '') && isOwnOfHost(theme))) continue;
      yield {
        message: kind,
        args: { found: name ?? '', problem: verdict.problem },
        file: '',
        hint: verdict.suggestion === undefined ? advise('rename-folder') : advise('rename-folder-to', { to: verdict.suggestion }),
        isRefusal: true,
      };
    }
  },
};
