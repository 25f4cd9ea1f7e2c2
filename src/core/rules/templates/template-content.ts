import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';
import { shownText, withIncluded } from '../../contents/templates.ts';

const advise = advices({
  'print-in': 'print {shape} in it, or in a partial that it includes',
});

/** Page roles whose template prints nothing of what the page is for. */
export const templateContent: Rule = {
  meta: {
    id: 'template/content',
    severity: 'warning',
    isSeen: true,
    summary: 'A page does not print what it is for',
    why: 'The host shows the page, and the list, the entry or the products that a visitor came for are not on it.',
    messages: { none: 'the {role} page prints none of {wanted}' },
    example: {
      platform: 'vereda',
      wrong: { 'pages/list.html': '<h1>{{page.title}}</h1>\n' },
      right: { 'pages/list.html': '<h1>{{page.title}}</h1>\n{{#entries}}<p>{{title}}</p>{{/entries}}\n' },
    },
  },
  *check({ theme, chain }) {
    const roles = theme.platform.contract.templates?.roles ?? {};
    for (const [role, { file, prints }] of Object.entries(roles)) {
      if (prints.length === 0 || theme.tree.get(file)?.kind !== 'file') continue;
      const text = shownText(withIncluded(chain, file)).replace(/\s+/g, '');
      if (text === '' || prints.some((wanted) => text.includes(wanted.replace(/\s+/g, '')))) continue;
      yield {
        message: 'none',
        args: { role, wanted: prints.join(', ') },
        file,
        source: theme.source(file),
        hint: advise('print-in', { shape: prints[0] ?? '' }),
      };
    }
  },
};
