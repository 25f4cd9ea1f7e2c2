import { posix } from 'node:path';
import { followLinks, folderOf } from '../../files/file-tree.ts';
import { matchesAny } from '../../files/glob.ts';
import { fillShape } from '../../platform/shape.ts';
import { referencesIn } from '../../theme/references.ts';
import type { Theme } from '../../theme/theme.ts';
import type { Rule } from '../rule.ts';

/** Addresses of the theme's own files that start at the root of the site. */
export const assetAbsolute: Rule = {
  meta: {
    id: 'asset/absolute',
    severity: 'warning',
    summary: 'A file of the theme is addressed from the root of the site',
    why: 'A site that lies in a folder, or keeps its themes elsewhere, does not find it.',
    messages: { absolute: '“{target}” starts at the root of the site, not at the theme’s' },
    example: {
      platform: 'vereda',
      wrong: {
        'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\n---*/\nbody { background: url("/themes/cierzo/hut.svg"); }\n',
        'hut.svg': '<svg xmlns="http://www.w3.org/2000/svg"/>\n',
      },
      right: {
        'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\n---*/\nbody { background: url("hut.svg"); }\n',
        'hut.svg': '<svg xmlns="http://www.w3.org/2000/svg"/>\n',
      },
    },
  },
  *check({ theme }) {
    const { assets, templates } = theme.platform.contract;
    for (const { path, kind } of theme.tree.entries) {
      const isSheet = path.endsWith('.css');
      if (kind !== 'file' || !(isSheet || matchesAny(path, templates?.files ?? []))) continue;
      const source = theme.source(path);
      for (const reference of source === undefined ? [] : referencesIn(source)) {
        const file = ownFile(theme, reference.target);
        if (file === undefined) continue;
        const { start, target } = reference;
        const root = assets['theme-root'];
        const better = isSheet ? posix.relative(folderOf(path), file) : root === undefined ? undefined : root + file;
        const end = start + target.replace(/[?#].*$/s, '').length;
        const isThere = followLinks(theme.tree, file)?.kind === 'file';
        yield {
          message: 'absolute',
          args: { target },
          file: path,
          source,
          range: reference,
          hint: better === undefined ? 'write it from where the theme lies' : `write “${better}”`,
          fix:
            better === undefined || !isThere
              ? undefined
              : { title: `write “${better}”`, isSafe: true, file: path, edits: [{ start, end, text: better }] },
        };
      }
    }
  },
};

/** The file of the theme that an address from the site's root leads to: by the theme's place in a host, or by its own path. */
function ownFile({ platform, names, tree }: Theme, target: string): string | undefined {
  if (!/^\/[^/]/.test(target)) return undefined;
  const path = target.replace(/[?#].*$/s, '').slice(1);
  const home = `${fillShape(platform.contract.home, names)}/`;
  const inTheme = path.startsWith(home) ? path.slice(home.length) : path;
  return followLinks(tree, inTheme)?.kind === 'file' || path.startsWith(home) ? inTheme : undefined;
}
