import { resolveInTree } from '../../files/file-tree.ts';
import { servedAt } from '../../theme/serving.ts';
import { keyPath, entriesOf } from '../../theme/documents.ts';
import { fileNamesOf } from '../../theme/file-names.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Paths in documents to files that are not there. */
export const fieldPath: Rule = {
  meta: {
    id: 'field/path',
    severity: 'error',
    isSeen: true,
    summary: 'A document names a file that is not there',
    why: 'The host asks for the file, gets nothing, and shows a hole, or refuses the theme.',
    messages: {
      missing: '“{key}” names {found}, which is not there',
      case: '“{key}” names {found}, which is called {near}: case counts on most servers',
    },
    example: {
      platform: 'cordada',
      wrong: { 'bundles/base.yaml': 'sheets:\n  - css/colours.css\n' },
      right: { 'bundles/base.yaml': 'sheets:\n  - css/colours.css\n', 'css/colours.css': 'body { margin: 0 }\n' },
    },
  },
  *check({ theme, chain, once }) {
    const files = once(fileNamesOf);
    for (const fact of theme.facts) {
      const { document, field } = fact;
      if (field.type !== 'path' && field.of !== 'path') continue;
      for (const { text: found, ...range } of entriesOf(fact)) {
        if (found === '' || found === field.none || /^(?:[a-z]+:)?\/\//i.test(found)) continue;
        // What follows is asked for with the file, and is no part of its name.
        const path = resolveInTree(field.under ?? '', found.replace(/[?#]\S*$/, ''));
        if (path !== undefined && servedAt(chain, path) !== undefined) continue;
        const sameButCase = path === undefined ? undefined : files.sameButCase(path);
        const near = sameButCase ?? files.near(found, document.path);
        yield {
          message: sameButCase === undefined ? 'missing' : 'case',
          args: { key: keyPath(field).join('.'), found, near },
          file: document.path,
          source: document.source,
          range,
          hint: near === undefined ? advise('add-or-take-out', { what: path ?? found }) : advise('did-you-mean', { near }),
        };
      }
    }
  },
};
