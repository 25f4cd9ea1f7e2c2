import { existsSync, mkdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { randomBytes } from 'node:crypto';
import { gzipSync } from 'node:zlib';
import { afterAll, describe, expect, it } from 'vitest';
import { makeSymlink, need } from '../support/needs.ts';
import { Workplace } from '../support/program.ts';
import { tarBlocks, tarGzOf, zipOf, type MadeEntry, type MadeTarEntry } from '../support/archives.ts';
import { snapshot } from '../support/trees.ts';

const LINK = 0o120777;
const THEME: MadeEntry[] = [
  { name: 'paso/sheet.css', content: '/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\n---*/\n.paso { }\n' },
  { name: 'paso/main.html', content: '<p>paso</p>\n' },
];
const zip = (...more: MadeEntry[]): Buffer => zipOf([...THEME, ...more]);
const zipWithLink = (path: string, target: string, ...more: MadeEntry[]): Buffer =>
  zip({ name: `paso/${path}`, content: target, mode: LINK }, ...more);
const TAR_THEME = THEME.map(({ name, content = '' }): MadeTarEntry => ({ path: name.toString(), content }));
const tar = (...more: MadeTarEntry[]): Buffer => tarGzOf([...TAR_THEME, ...more]);
const deep = (depth: number): string => Array.from({ length: depth }, (_, i) => `d${i}`).join('/');

/** A tar.gz of very many empty files, made without holding them in memory twice. */
function manyEntries(count: number): Buffer {
  const block = tarBlocks([{ path: 'paso/a', content: '' }]);
  return gzipSync(Buffer.concat([tarBlocks(TAR_THEME), ...Array.from({ length: count }, () => block)]), { level: 1 });
}

/** What `npm run hostile` prints. */
const table: string[] = [];
afterAll(() => {
  if (process.env['HOSTILE_TABLE'] !== undefined)
    console.log(['| archive with | bytes | MiB | s |', '|---|---|---|---|', ...table].join('\n'));
});

/** An archive of so many bytes holds nothing that memory would be needed for. */
const LITTLE = 20_000;

/** What each hostile archive gets: everything that an archive from elsewhere can try. */
const REFUSED: readonly [what: string, bytes: () => Buffer, says: RegExp][] = [
  [
    'a file below a link to the folder above',
    () => zipWithLink('x', '..', { name: 'paso/x/evil.txt', content: 'x' }),
    /below “paso\/x”, which is a link/,
  ],
  [
    'the same, the file first',
    () => zipOf([{ name: 'paso/x/evil', content: 'x' }, ...THEME, { name: 'paso/x', content: '..', mode: LINK }]),
    /below “paso\/x”/,
  ],
  [
    'a link that leaves by way of another',
    () => zipWithLink('sub/x', '..', { name: 'paso/l', content: 'sub/x/../../../.config', mode: LINK }),
    /link “paso\/l”, which points to/,
  ],
  ['a link that leaves the theme but not the archive', () => zipWithLink('x', '../other'), /link “x”, which points to \.\.\/other/],
  ['an absolute link', () => zipWithLink('x', '/etc'), /points to \/etc/],
  [
    'links in a tar that leave together',
    () => tar({ path: 'paso/a', type: 'SymbolicLink', linkpath: 'b/..' }, { path: 'paso/b', type: 'SymbolicLink', linkpath: '..' }),
    /points to/,
  ],
  ['a wrong checksum', () => zip({ name: 'paso/a', content: 'hut', crc32: 1 }), /“paso\/a” is not what was packed/],
  ['a size that is too small', () => zip({ name: 'paso/a', content: 'x'.repeat(4000), size: 3 }), /cannot be unpacked/],
  ['a size that is too large', () => zip({ name: 'paso/a', content: 'hut', size: 30 }), /shorter than it says/],
  [
    'stored sizes that contradict each other',
    () => zip({ name: 'paso/a', content: 'hut', size: 2, isStored: true }),
    /cannot be unpacked[^]*size mismatch/,
  ],
  ['another name before the content', () => zip({ name: 'paso/a', content: 'hut', localName: 'paso/b' }), /has another name/],
  ['an unknown method', () => zip({ name: 'paso/a', content: 'hut', method: 14 }), /not known here \(method 14\)/],
  ['a device', () => zip({ name: 'paso/a', mode: 0o020644 }), /a device, a pipe or a socket/],
  ['a hard link in a tar', () => tar({ path: 'paso/a', type: 'Link', linkpath: 'paso/main.html' }), /a hard link/],
  ['a pipe in a tar', () => tar({ path: 'paso/a', type: 'FIFO' }), /a pipe/],
  ['one name twice', () => zip({ name: 'paso/main.html', content: 'x' }), /“paso\/main\.html” twice/],
  ['a file and a folder of one name', () => zip({ name: 'paso/main.html/a', content: 'x' }), /as a file and as a folder/],
  ['a name too long for the file system', () => zip({ name: `paso/${'x'.repeat(256)}`, content: 'x' }), /too long/],
  ['a name that is no UTF-8', () => zip({ name: Buffer.from([0x70, 0x61, 0x73, 0x6f, 0x2f, 0xe9]), content: 'x' }), /not UTF-8/],
  ['a name that is no UTF-8 in a tar', () => tar({ path: Buffer.from([0x70, 0x61, 0x73, 0x6f, 0x2f, 0xe9]), content: 'x' }), /not UTF-8/],
  ['folders without end', () => zip({ name: `paso/${deep(60)}/a`, content: 'x' }), /61 folders deep|62 folders deep/],
  ['nothing but zeros', () => zip({ name: 'paso/a', content: Buffer.alloc(200_000_000) }), /too large to be a theme/],
  ['nothing but zeros, in a tar', () => tar({ path: 'paso/a', content: Buffer.alloc(200_000_000) }), /too large to be a theme/],
  ['a million entries', () => manyEntries(300_000), /more than 40,000|twice/],
  [
    'millions of folders that only paths name',
    () => zip(...Array.from({ length: 4000 }, (_, i) => ({ name: `paso/${i}/${deep(37)}/a` }))),
    /more than 40,000/,
  ],
  ['a tar that is cut off', () => tar({ path: 'paso/a', content: randomBytes(2000) }).subarray(0, -300), /cannot be unpacked/],
  ['a tar that is packed twice', () => gzipSync(tar()), /packed twice/],
];

describe('an archive with', () => {
  it.each(REFUSED)('%s is refused by clone, new and rehearse, and nothing is written', { timeout: 120_000 }, async (what, bytes, says) => {
    const place = new Workplace();
    const archive = bytes();
    const name = archive[0] === 0x1f ? 'bad.tar.gz' : 'bad.zip';
    mkdirSync(place.path('shelf'));
    writeFileSync(place.path('shelf', name), archive);
    const before = snapshot(place.folder);
    let worst = { mebibytes: 0, seconds: 0 };
    const [clone, ...others] = [
      ['clone', name, 'lumbre', '--yes'],
      ['new', 'lumbre', '--platform', 'vereda', '--kit', `./${name}`, '--yes'],
      ['rehearse', name],
    ] as const;
    // Memory is measured of a process of its own, where there is much; all commands read archives in the same way (`npm run hostile` measures all).
    const isMeasuringAll = process.env['HOSTILE_TABLE'] !== undefined;
    const measured = isMeasuringAll ? [clone, ...others] : archive.length > LITTLE ? [clone] : [];
    for (const line of isMeasuringAll ? [] : measured.length === 0 ? [clone, ...others] : others) {
      const { status, stderr } = await place.runIn('shelf', ...line);
      expect([line[0], status, stderr]).toEqual([line[0], 1, expect.stringMatching(says)]);
    }
    for (const line of measured) {
      const outcome = place.measureIn('shelf', ...line);
      expect(outcome.mebibytes).toBeLessThan(300);
      worst = { mebibytes: Math.max(worst.mebibytes, outcome.mebibytes), seconds: Math.max(worst.seconds, outcome.seconds) };
      expect(outcome.stderr).toMatch(says);
      expect([line[0], outcome.status]).toEqual([line[0], 1]);
    }
    expect(snapshot(place.folder)).toEqual(before);
    table.push(`| ${what} | ${archive.length} | ${worst.mebibytes.toFixed(0)} | ${worst.seconds.toFixed(1)} |`);
  });
});

const REPOSITORY = ['HEAD', 'config', 'hooks/post-checkout', 'objects/info/x', 'refs/heads/main'];
const HELD_BACK: readonly [what: string, entries: readonly MadeEntry[], left: RegExp][] = [
  [
    'folders of tools',
    ['.git/config', '.GIT/hooks/x', 'sub/.hg/hgrc', '.vscode/tasks.json', 'node_modules/.bin/ls', '.envrc', 'sub/.idea/x', 'git~1/x'].map(
      (path) => ({ name: `paso/${path}`, content: '[core]\n fsmonitor = touch /tmp/x\n' }),
    ),
    /Not unpacked from paso\.zip: paso\/\.GIT\/, paso\/\.envrc, paso\/\.git\/, paso\/\.vscode\//,
  ],
  [
    'a repository whose folder is called otherwise',
    ['paso', 'paso/parts'].flatMap((folder) =>
      REPOSITORY.map((path) => ({
        name: `${folder}/${path}`,
        content: path === 'HEAD' ? 'ref: refs/heads/main\n' : '[core]\n\tfsmonitor = "touch ran"\n',
      })),
    ),
    /Not unpacked from paso\.zip: paso\/HEAD, paso\/config/,
  ],
  [
    'settings of package tools, version control and assistants',
    ['.npmrc', '.yarnrc.yml', '.gitattributes', '.gitmodules', '.cursor/rules.json', '.claude/settings.json', '.mcp.json'].map((path) => ({
      name: `paso/${path}`,
      content: 'x',
    })),
    /Not unpacked from paso\.zip: paso\/\.claude\//,
  ],
];

it.each(HELD_BACK)('does not unpack %s, and says so', async (what, entries, left) => {
  const place = new Workplace();
  const open: MadeEntry = { name: 'paso/docs/HEAD', content: 'The head of a page, which others may write\n', mode: 0o100666 };
  writeFileSync(place.path('paso.zip'), zip(open, ...entries));
  const outcome = await place.run('clone', 'paso.zip', 'lumbre', '--yes');
  expect([outcome.status, outcome.stdout]).toEqual([0, expect.stringMatching(left)]);
  expect(Object.keys(snapshot(place.path('lumbre'))).toSorted((a, b) => (a < b ? -1 : 1))).toEqual([
    'docs',
    'docs/HEAD',
    'main.html',
    'sheet.css',
  ]);
  // No mode that lets others write is taken over.
  expect(statSync(place.path('lumbre/docs/HEAD')).mode & 0o777).toBe(process.platform === 'win32' ? 0o666 : 0o644);
  const made = await place.run('new', 'cierzo', '--platform', 'vereda', '--kit', './paso.zip', '--yes');
  expect([made.status, made.stdout]).toEqual([0, expect.stringMatching(left)]);
  table.push(`| ${what}: held back | ${readFileSync(place.path('paso.zip')).length} | | |`);
});

it('takes an honest archive with links, whoever made it', async () => {
  need('links');
  const place = new Workplace();
  writeFileSync(
    place.path('paso.tgz'),
    tar({ path: 'paso/a', type: 'SymbolicLink', linkpath: 'img/../main.html' }, { path: 'paso/img', type: 'Directory' }),
  );
  expect((await place.run('clone', 'paso.tgz', 'lumbre', '--yes')).status).toBe(0);
  expect(readFileSync(place.path('lumbre/a'), 'utf8')).toBe('<p>lumbre</p>\n');
});

it('does not wait for a pipe or a device in place of an archive, a plan, a baseline or a configuration', async () => {
  const place = new Workplace().withShelf();
  expect(place.shell('mkfifo one.zip pipe pionero.yaml').status).toBe(0);
  makeSymlink('/dev/zero', place.path('zero.zip'));
  const albar = 'demo/shelf/albar';
  for (const argv of [
    ['clone', 'one.zip', 'lumbre', '--yes'],
    ['rehearse', 'zero.zip'],
    ['check', albar],
    ['check', albar, '--baseline', 'pipe'],
    ['rename', albar, 'x', '--plan', 'pipe'],
    ['new', 'lumbre', '--platform', './pipe', '--yes'],
  ]) {
    const outcome = await place.run(...argv);
    expect([argv, outcome.status]).toEqual([argv, 2]);
    expect(outcome.stderr).toMatch(/pipe|not a theme|no platform file|a file/);
  }
});

it('takes no theme from beside a kit’s folder', async () => {
  const place = new Workplace().withShelf();
  const kit = (theme: string): string => `pionero: kit/1\nname: mochila\ntitle: Mochila\nabout: A kit\ntheme: ${theme}\n`;
  mkdirSync(place.path('kit'));
  makeSymlink('../demo/shelf/albar', place.path('kit/inside'));
  for (const theme of ['../demo/shelf/albar', 'inside']) {
    writeFileSync(place.path('kit/kit.yaml'), kit(theme));
    const outcome = await place.run('new', 'lumbre', '--platform', 'vereda', '--kit', './kit', '--yes');
    expect([outcome.status, existsSync(place.path('lumbre'))]).toEqual([2, false]);
    expect(outcome.stderr).toContain('which lies elsewhere');
  }
});
