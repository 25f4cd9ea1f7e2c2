import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';
import { templatesOf } from '../../contents/templates.ts';

const advise = advices({
  'close-sections': 'close every section, and every tag',
  'take-closing-out': 'take the closing tag out',
  'correct-code': 'correct the code here, or before it',
});

/** Templates that the template language cannot read. */
export const templateSyntax: Rule = {
  meta: {
    id: 'template/syntax',
    severity: 'error',
    isOfOneFile: true,
    isSeen: true,
    summary: 'A template breaks the rules of the template language',
    why: 'The host cannot show a page whose template it cannot read.',
    messages: {
      unclosedSection: 'the template cannot be read: the section “{name}” is not closed',
      unopenedSection: 'the template cannot be read: the section “{name}” is closed and was not opened',
      otherSection: 'the template cannot be read: the section “{name}” is closed as “{other}”',
      brokenCode: 'the template cannot be compiled: {name}',
      unclosedTag: 'the template cannot be read: the tag “{name}” is not closed',
    },
    example: {
      platform: 'vereda',
      wrong: { 'pages/list.html': '{{#entries}}<p>{{title}}</p>\n' },
      right: { 'pages/list.html': '{{#entries}}<p>{{title}}</p>{{/entries}}\n' },
    },
  },
  *check({ theme }) {
    for (const { path, source, template } of templatesOf(theme)) {
      for (const { code, name, other, start, end } of template.problems) {
        yield {
          message: code,
          args: { name, other },
          file: path,
          source,
          range: { start, end },
          hint: advise(code === 'unopenedSection' ? 'take-closing-out' : code === 'brokenCode' ? 'correct-code' : 'close-sections'),
        };
      }
    }
  },
};
