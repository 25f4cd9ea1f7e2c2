import { isInSpan } from '../../platform/platform.ts';
import { serveRole } from '../../contents/roles.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Page roles that no template of the chain serves. */
export const templateRole: Rule = {
  meta: {
    id: 'template/role',
    severity: 'error',
    isSeen: true,
    summary: 'A kind of page has no template',
    why: 'The host answers a page that nothing serves with an error.',
    messages: { unserved: 'nothing serves the page “{role}”: {tried} {verb} not there' },
    example: { platform: 'estrato', wrong: { 'templates/record/view.html': null }, right: {} },
  },
  *check({ theme, chain, releases }) {
    if (chain.broken !== undefined) return;
    const required = new Set(theme.platform.contract.files.filter((file) => file.required !== 'no').map((file) => file.path));
    for (const [role, contract] of Object.entries(theme.platform.contract.templates?.roles ?? {})) {
      if (!isInSpan(contract, releases)) continue;
      const served = serveRole(chain, role);
      // A missing file that is required is a finding of its own already.
      if (served.file !== undefined || served.builtIn !== undefined || served.tried.some((path) => required.has(path))) continue;
      yield {
        message: 'unserved',
        args: { role, tried: served.tried.join(', '), verb: served.tried.length > 1 ? 'are' : 'is' },
        file: served.tried[0] ?? '',
        hint: advise('add', { what: served.tried.join(' or ') }),
      };
    }
  },
};
