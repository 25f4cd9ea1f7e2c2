import { entriesOf, keyPath } from '../../theme/documents.ts';
import { nearest } from '../../text/nearest.ts';
import { fillShape, wholePattern } from '../../names/shape.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Fields that name a theme, this one or another, which is nowhere. */
export const fieldTheme: Rule = {
  meta: {
    id: 'field/theme',
    severity: 'warning',
    isOfOneFile: true,
    summary: 'A document names a theme that is nowhere',
    why: 'The host looks for the theme, finds none of that name, and takes its own, or nothing.',
    messages: { unknown: '“{key}” names the theme “{found}”, which is on no shelf' },
    example: { none: 'none of the shipped hosts has a field that may name any theme' },
  },
  *check({ theme, shelves }) {
    const { 'built-in': brought } = theme.platform.contract.inheritance;
    for (const fact of theme.facts) {
      const { field, document } = fact;
      if (field.type !== 'theme' && field.of !== 'theme') continue;
      const shape = field.shape ?? '{id}';
      const known = [theme.names, ...brought.map((id) => ({ id })), ...shelves.list().map(({ names }) => names)];
      for (const { text: found, ...range } of entriesOf(fact)) {
        // The rule for types reports a value that has not the shape.
        const isJudged = found !== '' && found !== field.none && wholePattern(shape).test(found);
        if (!isJudged || known.some((names) => wholePattern(shape, names).test(found))) continue;
        const near = nearest(
          found,
          known.map((names) => fillShape(shape, names)),
        );
        yield {
          message: 'unknown',
          args: { key: keyPath(field).join('.'), found },
          file: document.path,
          source: document.source,
          range,
          hint: near === undefined ? undefined : advise('did-you-mean', { near }),
        };
      }
    }
  },
};
