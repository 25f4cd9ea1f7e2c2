import { folderOf, followLinks, resolveInTree, isRooted } from '../../files/file-tree.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'point-or-remove': 'point it at a file of the theme, or remove it',
});

/** Symbolic links that leave the theme or end nowhere. */
export const fileLink: Rule = {
  meta: {
    id: 'file/link',
    severity: 'error',
    summary: 'A symbolic link leaves the theme or ends nowhere',
    why: 'A theme is installed alone: what its links point to outside it is not there any more.',
    messages: {
      outside: 'the link {path} points out of the theme, to {target}',
      broken: 'the link {path} points to {target}, which is not there',
    },
    example: { none: 'it is about links, which a listing does not show' },
  },
  *check({ theme }) {
    for (const entry of theme.tree.entries) {
      if (entry.kind !== 'link') continue;
      // Such a link is reported as a document.
      if (theme.documents.some(({ path, state }) => path === entry.path && state === 'unreadable')) continue;
      const target = entry.target ?? '';
      const inside = isRooted(target) ? undefined : resolveInTree(folderOf(entry.path), target);
      if (inside !== undefined && followLinks(theme.tree, entry.path) !== undefined) continue;
      yield {
        message: inside === undefined ? 'outside' : 'broken',
        args: { path: entry.path, target },
        file: entry.path,
        hint: advise(inside === undefined ? 'copy-in-place' : 'point-or-remove'),
      };
    }
  },
};
