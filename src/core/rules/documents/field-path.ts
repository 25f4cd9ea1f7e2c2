import { followLinks, resolveInTree } from '../../files/file-tree.ts';
import { statedPaths } from '../../contents/shaped-path.ts';
import { servedAt } from '../../contents/serving.ts';
import { keyPath } from '../../theme/documents.ts';
import { fileNamesOf } from '../../contents/file-names.ts';
import { parentWith, type Chain } from '../../theme/chain.ts';
import { advices, adviseMeant, adviseToTake } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Whether a path answers: along the chain, or in the one theme of it that is named. Of a theme outside it nobody here can tell. */
function isThere(chain: Chain, path: string, holder: string | undefined): boolean {
  if (holder === undefined) return servedAt(chain, path) !== undefined;
  const theme = chain.themes.find(({ names }) => names.id === holder);
  return theme === undefined || followLinks(theme.tree, path) !== undefined;
}

const advise = advices({
  'add-or-take-out': 'add {what}, or take it out',
});

/** Paths in documents to files that are not there. */
export const fieldPath: Rule = {
  meta: {
    id: 'field/path',
    severity: 'error',
    isOfOneFile: true,
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
      if (![field.type, field.of, ...(field.or ?? [])].includes('path')) continue;
      for (const { text: found, path: stated, id, ...range } of statedPaths(fact)) {
        if (/^(?:[a-z]+:)?\/\//i.test(stated)) continue;
        // What follows is asked for with the file, and is not part of its name.
        const path = resolveInTree(field.under ?? '', stated.replace(/[?#]\S*$/, ''));
        if (field.outside === 'allowed' && (path === undefined || stated.startsWith('/'))) continue;
        const holder = id === undefined || id === theme.names.id ? undefined : id;
        if (path !== undefined && isThere(chain, path, holder)) continue;
        const sameButCase = path === undefined ? undefined : files.sameButCase(path);
        const near = sameButCase ?? files.near(stated, document.path);
        const parent = sameButCase === undefined && path !== undefined ? parentWith(chain, path) : undefined;
        yield {
          message: sameButCase === undefined ? 'missing' : 'case',
          args: { key: keyPath(field).join('.'), found, near },
          file: document.path,
          source: document.source,
          range,
          hint:
            parent !== undefined && path !== undefined
              ? adviseToTake(parent, path)
              : near === undefined
                ? advise('add-or-take-out', { what: path ?? found })
                : adviseMeant(stated, near),
        };
      }
    }
  },
};
