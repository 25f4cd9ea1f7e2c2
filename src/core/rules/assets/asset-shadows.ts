import { matchesAny } from '../../files/glob.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'other-name-unless-meant': 'give it another name, unless the whole file is meant to be replaced',
});

/** Files that replace a parent's file of the same path, where that is hardly ever meant. */
export const assetShadows: Rule = {
  meta: {
    id: 'asset/shadows',
    severity: 'warning',
    isSeen: true,
    summary: 'A stylesheet replaces the parent’s of the same name',
    why: 'Equal paths shadow: the parent’s file is not loaded any more, and all that it styles is bare.',
    messages: { shadows: '{path} replaces the file of the same path in “{parent}” whole', replaced: 'the file of “{parent}”' },
    example: {
      platform: 'estrato',
      siblings: { ground: { 'css/ground.css': 'body { margin: 0 }\n' } },
      wrong: {
        'css/ground.css': 'body { color: navy }\n',
        'layer.mjs':
          "export default {\n  title: 'Cierzo',\n  version: '1.0.0',\n  hosts: '>=5',\n  extends: 'ground',\n  sheets: ['css/ground.css'],\n};\n",
      },
      right: {
        'css/own.css': 'body { color: navy }\n',
        'layer.mjs':
          "export default {\n  title: 'Cierzo',\n  version: '1.0.0',\n  hosts: '>=5',\n  extends: 'ground',\n  sheets: ['css/own.css'],\n};\n",
      },
    },
  },
  *check({ theme, chain }) {
    const { shadows } = theme.platform.contract.inheritance;
    const parents = chain.themes.slice(1);
    if (shadows.length === 0 || parents.length === 0) return;
    for (const entry of theme.tree.entries) {
      if (entry.kind === 'folder' || !matchesAny(entry.path, shadows)) continue;
      const parent = parents.find((each) => each.tree.get(entry.path)?.kind === 'file');
      if (parent === undefined) continue;
      yield {
        message: 'shadows',
        args: { path: entry.path, parent: parent.names.id },
        file: entry.path,
        related: [{ message: 'replaced', args: { parent: parent.names.id }, theme: parent, file: entry.path }],
        hint: advise('other-name-unless-meant'),
      };
    }
  },
};
