import { isInFolder } from '../../files/file-tree.ts';
import { matchesAny } from '../../files/glob.ts';
import { kitFolders } from '../../platform/platform.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** The parent's kits, copied along with one of them. */
export const fileKitFolder: Rule = {
  meta: {
    id: 'file/kit-folder',
    severity: 'warning',
    summary: 'A child that holds its parent’s kits',
    why: 'Kits belong to the parent: a host may list them as themes, and they grow old in the child.',
    messages: { left: '{path} holds kits of the parent “{parent}”' },
    example: {
      platform: 'cordada',
      siblings: { lumbre: { 'kits/plano/notes.txt': 'x\n' } },
      wrong: {
        'cierzo.cordada.yaml':
          'title: Cierzo\nis: theme\nhosts: ">=4"\nbase: lumbre\nload: [base]\nareas:\n  header: Header\n  content: Content\n',
        'kits/plano/notes.txt': 'x\n',
      },
      right: {
        'cierzo.cordada.yaml':
          'title: Cierzo\nis: theme\nhosts: ">=4"\nbase: lumbre\nload: [base]\nareas:\n  header: Header\n  content: Content\n',
      },
    },
  },
  *check({ theme, chain }) {
    const globs = kitFolders(theme.platform);
    for (const { path, kind } of globs.length === 0 ? [] : theme.tree.entries) {
      if (kind !== 'folder' || !matchesAny(path, globs)) continue;
      const own = theme.tree.entries.filter((entry) => isInFolder(entry.path, path));
      const parent = chain.themes.slice(1).find((each) => own.some((entry) => each.tree.get(entry.path) !== undefined));
      if (parent !== undefined) yield { message: 'left', args: { path, parent: parent.names.id }, file: path, hint: advise('take-out') };
    }
  },
};
