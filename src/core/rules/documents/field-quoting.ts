import { findSyntax } from '../../documents/syntaxes.ts';
import { plainValue } from '../../documents/syntax.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Words that YAML 1.1 readers take for a truth value and YAML 1.2 readers for text. */
const DOUBTFUL = /^(?:y|n|yes|no|on|off)$/i;

const advise = advices({
  quote: 'put {value} into quotes',
});

/** Texts that lack quotes and are read as a number, a truth value or nothing. */
export const fieldQuoting: Rule = {
  meta: {
    id: 'field/quoting',
    severity: 'error',
    isOfOneFile: true,
    summary: 'A text without quotes is read as something else',
    why: 'A title 1.10 without quotes is the number 1.1 to a host, and “no” is false to many: the theme then has another name, or none.',
    messages: { read: '“{raw}” without quotes is read as {read}, not as text' },
    example: {
      platform: 'cordada',
      wrong: { 'cierzo.cordada.yaml': 'title: 1.10\nis: theme\nhosts: ">=4"\nbase: none\nload: [base]\n' },
      right: { 'cierzo.cordada.yaml': 'title: "1.10"\nis: theme\nhosts: ">=4"\nbase: none\nload: [base]\n' },
    },
  },
  *check({ theme }) {
    for (const { document, field, node } of theme.facts) {
      const isPlainText = field.type === 'text' && findSyntax(document.contract.syntax)?.readsTypes === true;
      if (!isPlainText || node.kind !== 'scalar' || node.isQuoted || document.source === undefined) continue;
      const raw = document.source.text.slice(node.start, node.end);
      const value = plainValue(node);
      if (raw === '' || (typeof value === 'string' && !DOUBTFUL.test(raw))) continue;
      const read = typeof value === 'number' ? `the number ${value}` : value === null ? 'nothing' : 'a truth value';
      yield {
        message: 'read',
        args: { raw, read },
        file: document.path,
        source: document.source,
        range: node,
        hint: advise('write', { value: `"${raw}"` }),
        fix: {
          title: advise('quote', { value: raw }),
          isSafe: true,
          file: document.path,
          edits: [{ start: node.start, end: node.end, text: `"${raw}"` }],
        },
      };
    }
  },
};
