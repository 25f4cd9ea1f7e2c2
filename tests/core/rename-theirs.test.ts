import { expect, it } from 'vitest';
import { named, rename } from '../support/renaming.ts';

type Row = readonly [file: string, before: string, after: string];

/** Mentions of what belongs to others stay; beside them, mentions that look alike and are the theme's own. A theme `albar` becomes `cumbre-sur`. */
// prettier-ignore
const ROWS: readonly Row[] = [
  // What a theme depends on.
  ['package.json', '{ "dependencies": { "albar-icons": "1.0.0", "@albar/tools": "2.0.0" } }', '{ "dependencies": { "albar-icons": "1.0.0", "@albar/tools": "2.0.0" } }'],
  ['package.json', '{ "peerDependencies": { "albar": ">=2" }, "albar": { "menu": 1 } }', '{ "peerDependencies": { "albar": ">=2" }, "cumbre-sur": { "menu": 1 } }'],
  ['package.json', '{ "devDependencies": { "albar": "file:." } }', '{ "devDependencies": { "cumbre-sur": "file:." } }'],
  ['package.json', '{ "overrides": { "huts": { "albar-grid": "3" } } }', '{ "overrides": { "huts": { "albar-grid": "3" } } }'],
  ['composer.json', '{ "require": { "albar/framework": "^2" } }', '{ "require": { "albar/framework": "^2" } }'],
  ['composer.json', String.raw`{ "autoload": { "psr-4": { "Albar\\": "src/" } } }`, String.raw`{ "autoload": { "psr-4": { "CumbreSur\\": "src/" } } }`],
  ['requirements.txt', 'albar-docs==1.0\nalbar_ext>=2  # for albar\n', 'albar-docs==1.0\nalbar_ext>=2  # for cumbre-sur\n'],
  ['pyproject.toml', '[project]\ndependencies = ["albar-docs>=1"]\n[tool.albar]\nmenu = 1\n', '[project]\ndependencies = ["albar-docs>=1"]\n[tool.cumbre-sur]\nmenu = 1\n'],
  ['pyproject.toml', '[tool.setuptools]\npackages = ["albar"]\n', '[tool.setuptools]\npackages = ["cumbre-sur"]\n'],
  ['pyproject.toml', '[tool.huts.dependencies]\nalbar-docs = "^1"\n', '[tool.huts.dependencies]\nalbar-docs = "^1"\n'],
  ['Gemfile', "gem 'albar-grid', '~> 1'\n", "gem 'albar-grid', '~> 1'\n"],
  ['go.mod', 'require huts.example/albar/tools v1.2.0\n', 'require huts.example/albar/tools v1.2.0\n'],
  ['.github/workflows/a.yml', 'steps:\n  - uses: albar/setup@v2\n  - run: make albar\n', 'steps:\n  - uses: albar/setup@v2\n  - run: make cumbre-sur\n'],
  ['.gitlab-ci.yml', 'image: albar/builder:1\n', 'image: albar/builder:1\n'],
  ['Dockerfile', 'FROM albar/base:1\nCOPY . /themes/albar\n', 'FROM albar/base:1\nCOPY . /themes/cumbre-sur\n'],
  // What code takes from elsewhere.
  ['a.js', "import x from 'albar-icons';", "import x from 'albar-icons';"],
  ['a.js', "import x from 'albar-icons/lib/albar.js';", "import x from 'albar-icons/lib/albar.js';"],
  ['a.js', "const t = require('@albar/tools');", "const t = require('@albar/tools');"],
  ['a.js', "const t = await import('albar-late');", "const t = await import('albar-late');"],
  ['a.js', "import './own/albar-menu.js';", "import './own/cumbre-sur-menu.js';"],
  ['a.js', "on('albar-icons', from);", "on('cumbre-sur-icons', from);"],
  ['a.scss', '@use "albar-grid";\n@forward "albar-own";\n.albar-grid { top: 0 }', '@use "albar-grid";\n@forward "cumbre-sur-own";\n.cumbre-sur-grid { top: 0 }'],
  ['a.css', '@import "albar-icons/all.css";', '@import "albar-icons/all.css";'],
  // Accounts and repositories.
  ['a.md', 'See hutfriend/albar, or hutfriend/albar-tools.', 'See hutfriend/albar, or hutfriend/albar-tools.'],
  ['a.md', 'See hutfriend.example/huts/albar/issues and @albar there.', 'See hutfriend.example/huts/albar/issues and @albar there.'],
  ['a.md', 'Copy themes/albar, templates/albar and albar/own.', 'Copy themes/cumbre-sur, templates/cumbre-sur and cumbre-sur/own.'],
  ['a.yaml', 'github_repo: hutfriend/albar\ntwitter: albar\nmenu: albar\n', 'github_repo: hutfriend/albar\ntwitter: albar\nmenu: cumbre-sur\n'],
  ['a.php', '<?php /** @albar menu */ menu("@albar");', '<?php /** @cumbre-sur menu */ menu("@cumbre-sur");'],
  ['a.md', 'Write to albar@huts.example; Cierzo/Albar are two names.', 'Write to albar@huts.example; Cierzo/Cumbre Sur are two names.'],
  // Paths that lead out of the theme.
  ['docs/a.md', 'Pictures lie in `../../uploads/albar.png` and /usr/share/icons/albar.', 'Pictures lie in `../../uploads/albar.png` and /usr/share/icons/albar.'],
  ['docs/a.md', 'Ours is `../../albar/docs/a.md`, beside `../own/albar-menu.js`.', 'Ours is `../../cumbre-sur/docs/a.md`, beside `../own/cumbre-sur-menu.js`.'],
  ['a.css', 'a { background: url(../../uploads/albar.png) }', 'a { background: url(../../uploads/albar.png) }'],
  ['a.sh', 'cp -r . /var/www/themes/albar\ncp x /opt/albar/x\n', 'cp -r . /var/www/themes/cumbre-sur\ncp x /opt/albar/x\n'],
];

it.each(ROWS)('%s: %s', (file, before, after) => {
  const files = { [file]: before, 'own/albar-menu.js': '', '_albar-own.scss': '', 'sheet.css': '/*---\ntitle: Albar\n---*/\n' };
  const { tree, kept, leftovers } = rename(files, named('albar'), named('cumbre-sur'));
  expect(tree.read(file).toString('utf8')).toBe(after);
  expect(leftovers).toEqual([]);
  const left = after.replaceAll(/albar@\S+/g, '').split(/albar/i).length - 1;
  expect(kept.filter((place) => place.file === file && place.reason.group === 'theirs')).toHaveLength(left);
});

it('what belongs to others is renamed when that is wished', () => {
  const files = { 'package.json': '{ "dependencies": { "albar-icons": "1" } }' };
  const { tree } = rename(files, named('albar'), named('lumbre'), { include: ['theirs'] });
  expect(tree.read('package.json').toString('utf8')).toContain('"lumbre-icons"');
});
