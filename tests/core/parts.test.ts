import { MemoryTree } from '../../src/core/files/memory-tree.ts';
import { describe, expect, it } from 'vitest';
import { chooseParts, withoutParts, type KitPart } from '../../src/core/scaffold/parts.ts';
import { platformNamed, themeOf } from '../support/trees.ts';

const HEAD = '/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\n---*/\n';
const part = (...files: string[]): KitPart => ({ name: 'part', title: 'a part', files });

/** A file before and after the part went. */
type Row = readonly [what: string, platform: string, removed: Record<string, string>, file: string, before: string, after: string];

const ROWS: readonly Row[] = [
  [
    'an include on its own line',
    'vereda',
    { 'partials/menu.html': '' },
    'main.html',
    '<body>\n  {{> menu}}\n</body>\n',
    '<body>\n</body>\n',
  ],
  ['an include within a line', 'vereda', { 'partials/menu.html': '' }, 'main.html', '<nav>{{> menu}}</nav>\n', '<nav></nav>\n'],
  ['an include of a folder', 'vereda', { 'partials/a/menu.html': '' }, 'main.html', '{{> a/menu}}\n{{> other}}\n', '{{> other}}\n'],
  [
    'an element that loads a stylesheet',
    'vereda',
    { 'styles/menu.css': '' },
    'main.html',
    '<head>\n<link rel="stylesheet" href="{{{theme.path}}}/styles/menu.css">\n</head>\n',
    '<head>\n</head>\n',
  ],
  [
    'an element with its end tag',
    'vereda',
    { 'scripts/menu.js': '' },
    'main.html',
    '<p>x</p><script src="{{{theme.path}}}/scripts/menu.js" defer></script><p>y</p>\n',
    '<p>x</p><p>y</p>\n',
  ],
  [
    'an import of a stylesheet',
    'vereda',
    { 'styles/menu.css': '' },
    'sheet.css',
    `${HEAD}@import "styles/menu.css";\n@import url(styles/more.css);\n`,
    `${HEAD}@import url(styles/more.css);\n`,
  ],
  ['an import of a script', 'vereda', { 'scripts/menu.js': '' }, 'scripts/a.js', "import { x } from './menu.js';\nx();\n", 'x();\n'],
  ['an import for its effect', 'vereda', { 'scripts/menu.js': '' }, 'scripts/a.js', "import './menu.js';\nx();\n", 'x();\n'],
  [
    'code that is included',
    'vereda',
    { 'inc/menu.php': '' },
    'hooks.php',
    "<?php\nrequire __DIR__ . '/inc/menu.php';\nx();\n",
    '<?php\nx();\n',
  ],
  ['other code', 'vereda', { 'inc/menu.php': '' }, 'hooks.php', "<?php\nrequire 'inc/other.php';\n", "<?php\nrequire 'inc/other.php';\n"],
  [
    'an entry of a list',
    'cordada',
    { 'bundles/menu.yaml': 'sheets: []\n' },
    'paso.cordada.yaml',
    'title: Paso\nis: theme\nhosts: ">=4"\nbase: none\nload: [base, menu]\n',
    'title: Paso\nis: theme\nhosts: ">=4"\nbase: none\nload: [base]\n',
  ],
  [
    'a list of paths in code',
    'estrato',
    { 'js/menu.js': '' },
    'layer.mjs',
    "export default {\n  title: 'Paso',\n  scripts: ['js/menu.js', 'js/a.js'],\n};\n",
    "export default {\n  title: 'Paso',\n  scripts: ['js/a.js'],\n};\n",
  ],
  [
    'a path of its own',
    'estrato',
    { 'img/menu.png': '' },
    'layer.mjs',
    "export default {\n  title: 'Paso',\n  picture: 'img/menu.png',\n};\n",
    "export default {\n  title: 'Paso',\n};\n",
  ],
  [
    'a key that names a file',
    'bloque',
    { 'pieces/menu.html': '' },
    'bloque.toml',
    'title = "Paso"\n\n[pieces]\nmenu = "top"\nfooter = "end"\n',
    'title = "Paso"\n\n[pieces]\nfooter = "end"\n',
  ],
];

describe('a theme without a part', () => {
  it.each(ROWS)('has lost %s (%s)', (_what, platform, removed, file, before, after) => {
    const theme = themeOf(platformNamed(platform), 'paso', { ...removed, [file]: before });
    const left = withoutParts(theme, [part(...Object.keys(removed))]);
    expect(left.tree.read(file).toString()).toBe(after);
    expect(Object.keys(removed).map((path) => left.tree.get(path))).toEqual(Object.keys(removed).map(() => undefined));
    expect(
      left.tree.entries.filter(
        (entry) => entry.kind === 'folder' && !left.tree.entries.some((each) => each.path.startsWith(`${entry.path}/`)),
      ),
    ).toEqual([]);
  });

  it('is the same theme when nothing matches', () => {
    const theme = themeOf(platformNamed('vereda'), 'paso', { 'sheet.css': HEAD });
    expect(withoutParts(theme, [part('nothing/**')])).toBe(theme);
  });

  it.each([
    ['prat', /did you mean “part”/],
    ['something', /there are part/],
  ])('cannot do without “%s”', (name, says) => {
    expect(() => chooseParts([part()], [name], 'standard', new MemoryTree([]))).toThrow(/has no part/);
    let hint = '';
    try {
      chooseParts([part()], [name], 'standard', new MemoryTree([]));
    } catch (error) {
      hint = (error as { hint: string }).hint;
    }
    expect(hint).toMatch(says);
  });
});
