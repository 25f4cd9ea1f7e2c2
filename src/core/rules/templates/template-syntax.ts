import mustache from 'mustache';
import { matchesAny } from '../../files/glob.ts';
import type { Rule } from '../rule.ts';

/** Templates that the template language cannot read. */
export const templateSyntax: Rule = {
  meta: {
    id: 'template/syntax',
    severity: 'error',
    summary: 'A template breaks the rules of the template language',
    why: 'The host cannot show a page whose template it cannot read.',
    messages: { broken: 'the template cannot be read: {problem}' },
    example: {
      platform: 'vereda',
      wrong: { 'pages/list.html': '{{#entries}}<p>{{title}}</p>\n' },
      right: { 'pages/list.html': '{{#entries}}<p>{{title}}</p>{{/entries}}\n' },
    },
  },
  *check({ theme }) {
    const templates = theme.platform.contract.templates;
    for (const entry of templates === undefined ? [] : theme.tree.entries) {
      if (entry.kind !== 'file' || !matchesAny(entry.path, templates?.files ?? [])) continue;
      const source = theme.source(entry.path);
      if (source === undefined) continue;
      try {
        mustache.parse(source.text);
      } catch (error) {
        // The library tells the place at the end of its message: Unclosed section "entries" at 24
        const [, problem = String(error), offset = '0'] = /^Error: (.*?)(?: at |: )(\d+)$/s.exec(String(error)) ?? [];
        const start = Math.min(Number(offset), source.text.length);
        const broken = problem.charAt(0).toLowerCase() + problem.slice(1);
        yield {
          message: 'broken',
          args: { problem: broken },
          file: entry.path,
          source,
          range: { start, end: start },
          hint: 'close every section, and every tag',
        };
      }
    }
  },
};
