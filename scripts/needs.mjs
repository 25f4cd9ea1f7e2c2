// What some tests need besides Node.js and npm: the one table of it. `PIONERO_WITHOUT=chromium,sphinx` (or `all`) hides what is named.
import { spawnSync } from 'node:child_process';
import { existsSync, lstatSync, mkdtempSync, rmSync, symlinkSync } from 'node:fs';
import { homedir, tmpdir } from 'node:os';
import { delimiter, join } from 'node:path';

const runs = (command, ...args) => spawnSync(command, args, { encoding: 'utf8' }).status === 0;
// Where the program itself looks.
const isOnPath = (program) => (process.env.PATH ?? '').split(delimiter).some((folder) => existsSync(join(folder, program)));
// Debian's Python: the one that its packages belong to.
const PYTHON = '/usr/bin/python3';

// Not every system has them, and not everybody may make them where it has.
function hasLinks() {
  const folder = mkdtempSync(join(tmpdir(), 'pionero-link-'));
  try {
    symlinkSync('nowhere', join(folder, 'link'));
    return lstatSync(join(folder, 'link')).isSymbolicLink();
  } catch {
    return false;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Where hosts lie that npm brings: beside no project, so that none of them is a dependency of this one. */
export const NPM_HOSTS = join(process.env.XDG_CACHE_HOME ?? join(homedir(), '.cache'), 'pionero-hosts');
const isFromNpm = (...names) => names.every((name) => existsSync(join(NPM_HOSTS, 'node_modules', name, 'package.json')));
const HEXO = {
  ...{ hexo: '8.1.2', 'hexo-renderer-ejs': '2.0.0', 'hexo-renderer-stylus': '3.0.1', 'hexo-renderer-marked': '7.0.1' },
  ...{ 'hexo-renderer-pug': '3.0.0', 'hexo-generator-index': '4.0.0', 'hexo-generator-archive': '2.0.0' },
  ...{ 'hexo-generator-tag': '2.0.0', 'hexo-generator-category': '2.0.0' },
};
const MARP = { '@marp-team/marp-core': '5.0.2' };

/** Its name for people, whether it is on this machine, and the packages that bring it: Debian’s, and npm’s. */
export const NEEDS = {
  unix: { what: 'a system with modes, signals and any name for a file', isThere: () => process.platform !== 'win32', packages: [] },
  links: { what: 'symbolic links', isThere: hasLinks, packages: [] },
  git: { what: 'Git', isThere: () => runs('git', '--version'), packages: ['git'] },
  shell: {
    what: 'Bash and a terminal for it',
    isThere: () => runs('bash', '--version') && runs('script', '--version') && runs('setpriv', '--version'),
    packages: ['bash', 'bsdutils', 'util-linux'],
  },
  make: { what: 'Make', isThere: () => runs('make', '--version'), packages: ['make'] },
  processes: { what: 'a list of processes', isThere: () => runs('pgrep', '--version'), packages: ['procps'] },
  archivers: {
    what: 'archivers of others',
    isThere: () => runs('zip', '-v') && runs('unzip', '-v') && runs('7z', 'i') && runs('bsdtar', '--version') && runs('tar', '--version'),
    packages: ['zip', 'unzip', 'p7zip-full', 'libarchive-tools', 'tar'],
  },
  python: { what: 'Python', isThere: () => runs('python3', '--version'), packages: ['python3'] },
  chromium: {
    what: 'a browser',
    isThere: () => ['chromium', 'chromium-headless-shell'].every(isOnPath),
    packages: ['chromium', 'chromium-headless-shell'],
  },
  neovim: { what: 'an editor', isThere: () => runs('nvim', '--version'), packages: ['neovim'] },
  cluster: {
    what: 'a cluster',
    // Its programs start each other as root.
    isThere: () =>
      process.getuid?.() === 0 &&
      ['sbatch', 'slurmctld', 'slurmd', 'munged'].every((name) => existsSync(`/usr/sbin/${name}`) || isOnPath(name)),
    packages: ['slurm-wlm', 'munge'],
  },
  sphinx: {
    what: 'the documentation builder',
    isThere: () => runs('/usr/bin/sphinx-build', '--version') && runs(PYTHON, '-m', 'pip', '--version'),
    packages: ['python3-sphinx', 'python3-pip'],
  },
  manual: {
    what: 'the builder of these pages',
    isThere: () => runs(PYTHON, '-c', 'import sphinx, myst_parser'),
    packages: ['python3-sphinx', 'python3-myst-parser'],
  },
  mkdocs: {
    what: 'the builder of manuals',
    isThere: () => runs('/usr/bin/mkdocs', '--version') && runs(PYTHON, '-m', 'pip', '--version'),
    packages: ['mkdocs', 'python3-pip'],
  },
  hexo: {
    what: 'the builder of blogs',
    isThere: () => isFromNpm(...Object.keys(HEXO)),
    packages: [],
    npm: Object.entries(HEXO).map(([name, version]) => `${name}@${version}`),
  },
  marp: {
    what: 'the maker of slides',
    isThere: () => isFromNpm(...Object.keys(MARP)),
    packages: [],
    npm: Object.entries(MARP).map(([name, version]) => `${name}@${version}`),
  },
  roundcube: {
    what: 'the webmail',
    isThere: () =>
      existsSync('/usr/share/roundcube/program') && /pdo_sqlite/.test(spawnSync('php', ['-m'], { encoding: 'utf8' }).stdout ?? ''),
    packages: ['roundcube-core', 'roundcube-sqlite3', 'php-cli', 'php-sqlite3'],
  },
  mail: {
    what: 'a mail server',
    isThere: () => existsSync('/usr/sbin/dovecot') && runs('setpriv', '--version'),
    packages: ['dovecot-imapd', 'util-linux'],
  },
  toolkit: {
    what: 'the icon toolkit',
    isThere: () =>
      runs('gtk-update-icon-cache', '--help') &&
      runs('xvfb-run', '--help') &&
      runs(PYTHON, '-c', 'import gi; gi.require_version("Gtk", "3.0"); from gi.repository import Gtk'),
    packages: ['gtk-update-icon-cache', 'gir1.2-gtk-3.0', 'python3-gi', 'librsvg2-common', 'xvfb', 'xauth'],
  },
  wine: {
    what: 'Windows as Wine has it',
    isThere: () => runs('wine', '--version') && runs('x86_64-w64-mingw32-as', '--version'),
    packages: ['wine', 'wine64', 'binutils-mingw-w64-x86-64'],
  },
  tracer: { what: 'a tracer of system calls', isThere: () => runs('strace', '-V'), packages: ['strace'] },
};

const hidden = (process.env.PIONERO_WITHOUT ?? '').split(',').filter((name) => name !== '');

/** Whether PIONERO_WITHOUT hides something. */
export function isHidden(name) {
  return hidden.includes('all') || hidden.includes(name);
}

const known = new Map();

/** Whether something is on this machine, and not hidden. */
export function has(name) {
  if (!known.has(name)) known.set(name, !isHidden(name) && NEEDS[name].isThere());
  return known.get(name);
}

/** The names of what is not there. */
export function missing() {
  return Object.keys(NEEDS).filter((name) => !has(name));
}

for (const name of hidden)
  if (name !== 'all' && !Object.hasOwn(NEEDS, name))
    throw new Error(`PIONERO_WITHOUT: “${name}” is not one of all, ${Object.keys(NEEDS).join(', ')}`);
