// The themes of the hosts that Pionero ships, as Debian and npm package them: fetched, unpacked into a folder, never installed or run.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, rmSync, statSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';

/** By host: where its themes lie in a site, by which file they are known, and in which packages they are. */
export const HOSTS = {
  sphinx: {
    search: ['sphinx', 'theme'],
    own: '/usr/share/sphinx/themes',
    mark: 'theme.conf',
    themes: 'site/_themes',
    site: 'handbook',
    prepare: 'prepareSite',
    provided: ['basic'],
  },
  roundcube: {
    search: ['roundcube-skin'],
    own: '/usr/share/roundcube/skins',
    mark: 'meta.json',
    themes: 'site/skins',
    site: 'staging',
    prepare: 'prepareWebmail',
    provided: ['elastic'],
  },
  mkdocs: {
    search: ['mkdocs-'],
    own: '/usr/lib/python3/dist-packages/mkdocs/themes',
    // A folder in the site that is called like the builder would stand in the builder’s place.
    onlyChecked: ['mkdocs', 'readthedocs'],
    mark: 'mkdocs_theme.yml',
    themes: 'manual/themes',
    site: 'manual',
    prepare: 'prepareManual',
    provided: ['mkdocs', 'readthedocs'],
  },
  hexo: {
    // All that npm had of this name in November 2026, as far as they were found by it; one folder each.
    fromNpm: `anzhiyu arknights aurora ayer butterfly cards cupertino fluid icarus inside keep kratos-rebirth landscape melody nexmoe next pure redefine
      shokax solitude stellar vivia volantis yun zhaoo`,
    prefix: 'hexo-theme-',
    mark: 'layout',
    themes: 'blog/themes',
    site: 'blog',
    prepare: 'prepareBlog',
    provided: [],
  },
  icons: {
    search: ['icon-theme'],
    own: '/usr/share/icons',
    mark: 'index.theme',
    largest: 30_000,
    lookUp: true,
    provided: ['hicolor', 'default'],
  },
};
/** The folders of all themes of a host that are packaged, or that the host itself brings. @param root a folder for what is unpacked */
export function packagedThemes(host, root) {
  const { search, own, fromNpm, prefix, mark, largest } = HOSTS[host];
  return fromNpm === undefined
    ? [...themesBelow(own, mark), ...packagesOf(search, largest).flatMap((name) => themesBelow(unpacked(name, join(root, host)), mark))]
    : fromNpm.split(/\s+/).flatMap((name) => fetched(name, prefix, join(root, host)));
}

/** A package of npm in a folder that is called as the theme; nothing of it is run. */
function fetched(name, prefix, root) {
  const folder = join(root, 'packages', name.replace(/@.*/, ''));
  mkdirSync(folder, { recursive: true });
  spawnSync('npm', ['pack', prefix + name, '--silent', '--ignore-scripts'], { cwd: folder, stdio: 'ignore' });
  const [archive] = readdirSync(folder);
  if (archive === undefined) return [];
  spawnSync('tar', ['xzf', archive, '--strip-components=1'], { cwd: folder });
  rmSync(join(folder, archive));
  return [folder];
}

function packagesOf(words, largest = Infinity) {
  const { stdout } = spawnSync('apt-cache', ['search', ...words], { encoding: 'utf8' });
  return stdout
    .split('\n')
    .map((line) => line.split(' ')[0])
    .filter((name) => name !== '' && !name.endsWith('-doc') && sizeOf(name) <= largest);
}

/** A package’s files in a folder of its own; nothing of it is run. */
function unpacked(name, root) {
  const folder = join(root, 'packages', name);
  mkdirSync(folder, { recursive: true });
  spawnSync('apt-get', ['download', name], { cwd: folder, stdio: 'ignore' });
  for (const file of readdirSync(folder).filter((each) => each.endsWith('.deb')))
    spawnSync('dpkg-deb', ['-x', join(folder, file), folder], { stdio: 'ignore' });
  return folder;
}

/** The folders that hold a theme’s mark, links apart. */
function themesBelow(folder, mark) {
  if (folder === undefined || !existsSync(folder)) return [];
  return readdirSync(folder, { recursive: true })
    .filter(
      (path) =>
        basename(path) === mark &&
        !/(?:^|\/)(?:doc|docs|tests?)\//.test(path) &&
        statSync(join(folder, path), { throwIfNoEntry: false })?.isFile(),
    )
    .map((path) => dirname(join(folder, path)));
}

/** Kibibytes that a package takes when it is installed. */
function sizeOf(name) {
  const { stdout } = spawnSync('apt-cache', ['show', name], { encoding: 'utf8' });
  return Number(/^Installed-Size: (\d+)/m.exec(stdout)?.[1] ?? 0);
}
