import { followLinks, folderOf, resolveInTree } from '../../files/file-tree.ts';
import { findZones, zoneAt } from '../../text/zones.ts';
import { fileNamesOf } from '../../contents/file-names.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** The ends of imports: what stands before them can be long. */
const IMPORT = /\b(?:from|import)\s*["'](\.{1,2}\/[^"'\n]+)["']|\bimport\s*\(\s*["'](\.{1,2}\/[^"'\n]+)["']\s*\)/g;

const advise = advices({
  'add-or-drop-import': 'add the file, or take the import out',
});

/** Imports of scripts that no file of the theme answers to. */
export const assetImport: Rule = {
  meta: {
    id: 'asset/import',
    severity: 'error',
    isSeen: true,
    summary: 'A script imports a file that is not there',
    why: 'A browser runs nothing of a script whose import fails.',
    messages: { missing: '“{target}” does not exist', case: '“{target}” is called “{near}”: case counts on most servers' },
    example: {
      platform: 'vereda',
      wrong: { 'scripts/a.js': "import { open } from './Menu.js';\nopen();\n", 'scripts/menu.js': 'export function open() {}\n' },
      right: { 'scripts/a.js': "import { open } from './menu.js';\nopen();\n", 'scripts/menu.js': 'export function open() {}\n' },
    },
  },
  *check({ theme, once }) {
    const files = once(fileNamesOf);
    for (const { kind, path: file } of theme.tree.entries) {
      const source = kind !== 'folder' && /\.m?js$/.test(file) ? theme.source(file) : undefined;
      if (source === undefined || !/\b(?:import|export)\b/.test(source.text)) continue;
      const zones = findZones(file, source.text);
      for (const match of source.text.matchAll(IMPORT)) {
        const target = match[1] ?? match[2] ?? '';
        const path = resolveInTree(folderOf(file), target.replace(/[?#].*$/, ''));
        if (zoneAt(zones, match.index) !== 'code' || (path !== undefined && followLinks(theme.tree, path) !== undefined)) continue;
        const twin = path === undefined ? undefined : files.sameButCase(path);
        const near = twin ?? (path === undefined ? undefined : files.near(path, file));
        const start = match.index + match[0].lastIndexOf(target);
        yield {
          message: twin === undefined ? 'missing' : 'case',
          args: { target, near },
          file,
          source,
          range: { start, end: start + target.length },
          hint: near === undefined ? advise('add-or-drop-import') : advise('did-you-mean', { near }),
        };
      }
    }
  },
};
