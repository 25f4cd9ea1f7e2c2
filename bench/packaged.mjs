// Checks the real hosts' own themes and all others of them that Debian or npm packages, clones each under a distinctive name, a common
// one and one of two words, and lets the host say whether it takes the copies as it takes the originals, and makes the same pages of
// them. Every finding is printed, to be read. packaged-verdicts.json has the findings that were read, and a new one is printed:
// right is a finding whose statement is true, also where the theme's author knows it; those of icon themes were read in groups that say the same.
// Hosts can be named, or single themes (`hexo/pure`), to try them alone; `--quiet` leaves the findings out, `--check` the clones.
// The packages are unpacked into a temporary folder and never installed. Needs Debian's apt-get and dpkg-deb, npm, and the hosts.
import { spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join, resolve } from 'node:path';
import { placeAt, support } from '../scripts/hosts.mjs';
import { HOSTS, packagedThemes } from './packages.mjs';

// Of two words, and a name in every language: some of the themes are packages that code imports.
const NAMES = ['lumbre', 'page', 'cumbre_sur'];
/** Which icons the toolkit finds in a theme: how many, and a hash of where. */
const LOOK_UP = `
import sys, os, hashlib, gi
gi.require_version('Gtk', '3.0')
from gi.repository import Gtk
theme = Gtk.IconTheme()
theme.set_search_path(sys.argv[1:3])
theme.set_custom_theme(sys.argv[3])
names = set(os.path.splitext(name)[0] for _, _, files in os.walk(os.path.join(sys.argv[1], sys.argv[3])) for name in files if name.endswith(('.png', '.svg')))
own = 0
for name in names:
    found = theme.lookup_icon(name, 48, 0)
    own += found is not None and (found.get_filename() or '').startswith(os.path.join(sys.argv[1], sys.argv[3]) + '/')
print(len(names), own)
`;
const program = resolve('dist/pionero.cjs');
const root = mkdtempSync(join(tmpdir(), 'pionero-packaged-'));
const only = process.argv.slice(2).filter((each) => !each.startsWith('--'));
const isQuiet = process.argv.includes('--quiet');
const isCheckOnly = process.argv.includes('--check');
const verdicts = JSON.parse(readFileSync('bench/packaged-verdicts.json', 'utf8'));
let unread = 0;
let differing = 0;
let cloned = 0;
const tally = { right: 0, wrong: 0 };
try {
  for (const name of Object.keys(HOSTS).filter((each) => only.length === 0 || only.some((one) => one.split('/')[0] === each)))
    await tryHost(name, HOSTS[name]);
  console.log(`${cloned} clones, ${differing} themes whose clones the host takes otherwise`);
  const all = tally.right + tally.wrong;
  console.log(
    `${all} findings were read: ${tally.wrong} are wrong (${((tally.wrong / Math.max(1, all)) * 100).toFixed(1)} %); ${unread} not read yet`,
  );
} finally {
  rmSync(root, { recursive: true, force: true });
}
process.exitCode = differing === 0 && unread === 0 ? 0 : 1;

async function tryHost(host, { themes: home, site, prepare, provided, lookUp, onlyChecked = [] }) {
  const shelf = join(root, host, 'shelf');
  mkdirSync(shelf, { recursive: true });
  const folders = packagedThemes(host, root);
  // Links in packages lead to others: what they lead to is not there, and a theme is copied as it lies.
  for (const folder of folders)
    if (!existsSync(join(shelf, basename(folder))))
      cpSync(folder, join(shelf, basename(folder)), { recursive: true, verbatimSymlinks: true });
  const chosen = only.flatMap((one) => (one.startsWith(`${host}/`) ? one.slice(host.length + 1) : []));
  const there = readdirSync(shelf);
  const ids = there.filter((id) => chosen.length === 0 || chosen.includes(id));
  // The host has its own themes already: links in a copy of it would lead nowhere.
  const parents = join(root, host, 'parents');
  mkdirSync(parents);
  for (const id of there.filter((each) => !provided.includes(each))) symlinkSync(join(shelf, id), join(parents, id));
  const place = placeAt(join(root, host, 'place'));
  mkdirSync(place.folder, { recursive: true });
  if (lookUp !== true) {
    (await support(host))[prepare](place);
    (await support('sites')).describeSite(place, site);
  }
  const counts = new Map();
  let files = 0;
  // What docs/sites.md wants to see is on the pages of themes from the kits; these have names of their own.
  const described = place.path('pionero.yaml');
  // A theme that is a Python package is installed as one: its code is found where the themes are.
  const settings = place.path('site/conf.py');
  if (existsSync(settings))
    writeFileSync(settings, `import os, sys\nsys.path.insert(0, os.path.abspath('_themes'))\n${readFileSync(settings, 'utf8')}`);
  if (existsSync(described)) writeFileSync(described, readFileSync(described, 'utf8').replace(/"[^"]*\{id\}\.css",? ?/g, ''));
  for (const id of ids) {
    const checked = json(place, ['check', join(shelf, id), '--platform', host, '--format', 'json', '--no-cache']);
    const findings = checked?.findings ?? [];
    files += checked?.summary?.files ?? 0;
    for (const { rule } of findings) counts.set(rule, (counts.get(rule) ?? 0) + 1);
    read(host, id, findings);
    const answers =
      isCheckOnly || onlyChecked.includes(id)
        ? []
        : [id, ...NAMES].map((name) => judged(place, { id, name, host, site, home, shelf, parents, lookUp }));
    const [original, ...copies] = answers;
    const same = copies.every((copy) => copy === original);
    if (!same) differing += 1;
    console.log(`${same ? '✓' : '✗'} ${host}/${id}: ${findings.length} findings; host: ${same ? original : answers.join(' | ')}`);
    for (const { severity, rule, file, line, message } of isQuiet ? [] : findings)
      console.log(`    ${severity} ${rule} ${file}:${line} ${message}`);
  }
  const all = [...counts.values()].reduce((sum, each) => sum + each, 0);
  console.log(
    `${host}: themes ${ids.length}, files ${files}, findings ${all} (${[...counts].map(([rule, number]) => `${rule} ${number}`).join(', ')})`,
  );
}

/** The host’s answer to a theme, or to its clone: a tick, or its words without the name. */
function judged(place, { id, name, host, site, home, shelf, parents, lookUp }) {
  const work = join(place.folder, 'work');
  rmSync(work, { recursive: true, force: true });
  mkdirSync(work, { recursive: true });
  const options = ['--shelf', parents, '--platform', host];
  // Links of the original lead to its neighbors: it is looked at where they are.
  if (name === id && lookUp === true) return lookedUp(shelf, id, shelf, id);
  if (name === id) cpSync(join(shelf, id), join(work, id), { recursive: true, verbatimSymlinks: true });
  else {
    const made = run(place, ['clone', join(shelf, id), name, '--to', work, '--include', 'unsure', '--yes', ...options]);
    if (!existsSync(join(work, name))) return `not cloned: ${(made.stdout + made.stderr).match(/✗.*/)?.[0] ?? made.stderr.split('\n')[0]}`;
    cloned += 1;
  }
  if (lookUp === true) return lookedUp(work, name, shelf, id);
  mkdirSync(place.path(home), { recursive: true });
  const shown = json(place, ['rehearse', join(work, name), '--site', site, '--yes', '--format', 'json', ...options]);
  if (shown === undefined) return 'no answer';
  const told = shown.findings.map(({ rule, message }) => `${rule} ${nameless(message, id)}`);
  const pages = shown.pages.map(({ role, status, loaded }) => `${role}${status === null ? '' : ` ${status}`} ${loaded.length}`).join(', ');
  return `${told.length === 0 ? '✓' : told.sort().join('; ').slice(0, 160)} (${pages})`;
}

/** A message without the names of the theme and its clones, however they are spelled. */
function nameless(message, id) {
  const spelled = [id, ...NAMES].map((name) => name.split(/[-_]/).join('[-_ ]?')).join('|');
  return message.replace(new RegExp(`(?<![A-Za-z])(?:${spelled})(?![a-z])`, 'gi'), 'ID');
}

function lookedUp(work, name, shelf, id) {
  const built = spawnSync('gtk-update-icon-cache', ['--force', join(work, name)], { encoding: 'utf8' });
  // Debian's Python: the one that its packages for the toolkit belong to.
  const { stdout, stderr } = spawnSync('xvfb-run', ['-a', '/usr/bin/python3', '-c', LOOK_UP, work, shelf, name], { encoding: 'utf8' });
  rmSync(join(work, name, 'icon-theme.cache'), { force: true });
  return nameless(`cache ${built.status}; ${stdout.trim() || stderr.split('\n').at(-2)}`, id);
}

function run(place, args) {
  return spawnSync(process.execPath, [program, ...args], {
    cwd: place.folder,
    encoding: 'utf8',
    maxBuffer: 1 << 28,
    env: { ...process.env, XDG_STATE_HOME: join(root, 'state'), NO_COLOR: '1' },
  });
}

function json(place, args) {
  const { stdout, stderr } = run(place, args);
  try {
    return JSON.parse(stdout);
  } catch {
    console.log(`    ${args.join(' ')}: ${stderr.split('\n').slice(0, 3).join(' ')}`);
    return undefined;
  }
}

/** Counts which findings of a theme were read: by rule, how many are right and how many are wrong. */
function read(host, id, findings) {
  const known = (verdicts[host] ?? {})[id] ?? {};
  const found = new Map();
  for (const { rule } of findings) found.set(rule, (found.get(rule) ?? 0) + 1);
  for (const [rule, count] of found) {
    const { right = 0, wrong = 0 } = known[rule] ?? {};
    tally.right += Math.min(right, count);
    tally.wrong += Math.min(wrong, count);
    if (right + wrong >= count) continue;
    unread += count - right - wrong;
    console.log(`    not read yet: ${host} ${id} ${rule}: ${count}, of which ${right + wrong} are on record`);
  }
}
