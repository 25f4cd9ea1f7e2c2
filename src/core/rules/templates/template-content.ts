import { shapePattern } from '../../platform/shape.ts';
import { findInChain, type Chain } from '../../theme/chain.ts';
import type { Rule } from '../rule.ts';

/** Page roles whose template prints nothing of what the page is for. */
export const templateContent: Rule = {
  meta: {
    id: 'template/content',
    severity: 'warning',
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
      const text = withPartials(chain, file).replace(/\s+/g, '');
      if (text === '' || prints.some((wanted) => text.includes(wanted.replace(/\s+/g, '')))) continue;
      yield {
        message: 'none',
        args: { role, wanted: prints.join(', ') },
        file,
        source: theme.source(file),
        hint: `print ${prints[0]} in it, or in a partial that it includes`,
      };
    }
  },
};

/** A template's text with the partials that it includes, each once. */
function withPartials(chain: Chain, path: string): string {
  const partials = chain.themes[0]?.platform.contract.templates?.partials;
  const texts: string[] = [];
  const paths = new Set([path]);
  // What is added to a set while it is gone through is gone through too.
  for (const each of paths) {
    const found = findInChain(chain, each);
    const text = found?.theme.source(found.path)?.text ?? '';
    texts.push(text);
    for (const match of partials === undefined ? [] : text.matchAll(shapePattern(partials.include))) {
      const name = match.groups?.['path'] ?? match.groups?.['name'] ?? '';
      paths.add(partials?.file.replace('{path}', name).replace('{name}', name) ?? '');
    }
  }
  return texts.join('\n');
}
