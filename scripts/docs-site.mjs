// Builds the pages of docs/ as a site, with the theme in site/themes/pionero: site/build/index.html. docs/index.md is its front page, and
// the lists there are its navigation. `--source DIR` only writes what the builder reads.
import { spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { NEEDS } from './needs.mjs';

/** Pages beside docs/ that belong to the site. */
const BESIDE = ['SECURITY.md', 'CONTRIBUTING.md', 'CHANGELOG.md'];
/** A link into the repository, which leads nowhere on a site: its words stay. */
const REPOSITORY = /\[([^\]]*)\]\((?:\.\.\/)?(?:src|tests|platforms|schemas|demo|scripts|examples|README)[^)]*\)/g;

const [flag, folder] = process.argv.slice(2);
if (flag === '--source' && folder !== undefined) writeSource(folder);
else if (NEEDS.manual.isThere()) build();
else console.log('The site was not built: sphinx-build and myst_parser are missing (npm run setup:hosts installs them).');

/** Writes the pages as the builder reads them, with its settings and the theme. @returns how many pages there are */
function writeSource(source) {
  mkdirSync(source, { recursive: true });
  cpSync('docs/screenshots', join(source, 'screenshots'), { recursive: true });
  cpSync('site', source, { recursive: true, filter: (path) => !path.endsWith('build') });
  const pages = readdirSync('docs').filter((name) => name.endsWith('.md'));
  const write = (name, text) => writeFileSync(join(source, name), text.replace(REPOSITORY, '$1'));
  for (const name of pages) write(name, readFileSync(join('docs', name), 'utf8').replaceAll('](../', ']('));
  for (const name of BESIDE) write(name, readFileSync(name, 'utf8').replaceAll('](docs/', ']('));
  writeFileSync(join(source, 'index.md'), navigation(), { flag: 'a' });
  return pages.length + BESIDE.length;
}

function build() {
  const source = mkdtempSync(join(tmpdir(), 'pionero-docs-'));
  const out = 'site/build';
  try {
    const count = writeSource(source);
    const { version } = JSON.parse(readFileSync('package.json', 'utf8'));
    rmSync(out, { recursive: true, force: true });
    // A warning is a broken link or a page that nothing leads to.
    const args = [
      '-m',
      'sphinx',
      '-q',
      '-W',
      '--keep-going',
      '-b',
      'html',
      '-D',
      `release=${version}`,
      '-d',
      join(source, '.trees'),
      source,
      out,
    ];
    const { status } = spawnSync('/usr/bin/python3', args, { stdio: 'inherit' });
    if (status !== 0) process.exit(status ?? 1);
    console.log(`${count} pages in ${out}/index.html`);
  } finally {
    rmSync(source, { recursive: true });
  }
}

/** The lists of the front page as the builder's own, each below its heading. */
function navigation() {
  const sections = readFileSync('docs/index.md', 'utf8').split(/^## /m).slice(1);
  return sections
    .map((section) => {
      const [caption = ''] = section.split('\n');
      const entries = [...section.matchAll(/\[([^\]]*)\]\((?:\.\.\/)?([\w-]+)\.md\)/g)].map(([, title, page]) => `${title} <${page}>`);
      return `\n\`\`\`{toctree}\n:hidden:\n:caption: ${caption}\n\n${entries.join('\n')}\n\`\`\`\n`;
    })
    .join('');
}
