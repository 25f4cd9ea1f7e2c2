import { existsSync, mkdirSync, readFileSync, rmSync, symlinkSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { Workplace } from '../support/program.ts';
import { hasWebmail, prepareWebmail } from '../support/roundcube.ts';
import { hasBuilder, prepareSite } from '../support/sphinx.ts';
import { kitFiles, platformNamed, snapshot, writeFiles } from '../support/trees.ts';

/** Makes a page of the theme’s own: what a host that builds pages does, in a few lines. */
const BUILDER = `import { mkdirSync, readFileSync, writeFileSync, cpSync } from 'node:fs';
const [id, out] = process.argv.slice(2);
const page = readFileSync('themes/' + id + '/main.html', 'utf8');
if (page.includes('{{> nowhere}}')) { console.error(process.cwd() + '/themes/' + id + '/main.html:1: no such partial'); process.exit(1); }
mkdirSync(out + '/themes', { recursive: true });
cpSync('themes', out + '/themes', { recursive: true });
writeFileSync(out + '/index.html', '<link rel="stylesheet" href="themes/' + id + '/sheet.css">' + page.replaceAll('{{{theme.path}}}', 'themes/' + id));
`;

const SERVER = `import { createServer } from 'node:http';
import { appendFileSync, existsSync, readFileSync } from 'node:fs';
import { spawn } from 'node:child_process';
const [id, port] = process.argv.slice(2);
spawn(process.execPath, ['-e', 'setInterval(() => {}, 1000)', 'child-of-' + port], { stdio: 'ignore' });
createServer((request, response) => {
  if (request.url === '/ends') process.exit(1);
  if (request.url === '/away') return response.writeHead(302, { location: 'http://127.0.0.2:1/' }).end();
  if (request.url === '/on') return response.writeHead(302, { location: '/nowhere' }).end();
  if (request.url === '/logs') appendFileSync('site.log', 'new mistake in main.html\\n');
  if (request.url === '/') return response.end('<link rel="stylesheet" href="/themes/' + id + '/sheet.css"><img src="/themes/' + id + '/gone.png">');
  const file = '.' + request.url;
  response.statusCode = existsSync(file) ? 200 : 404;
  response.end(existsSync(file) ? readFileSync(file) : 'not here');
}).listen(Number(port), '127.0.0.1');
`;

function withSites(more = ''): Workplace {
  const place = new Workplace();
  writeFiles(place.path('paso'), kitFiles(platformNamed('vereda'), 'paso'));
  writeFiles(place.path('site'), {
    'build.mjs': BUILDER,
    'serve.mjs': SERVER,
    'sleep.mjs': 'setInterval(() => {}, 1000);\n',
    'home.mjs': "console.log('HOME=' + process.env.HOME, 'SECRET=' + process.env.SECRET);\n",
  });
  mkdirSync(place.path('site/themes'), { recursive: true });
  const node = JSON.stringify(process.execPath);
  writeFiles(place.folder, {
    'pionero.yaml': `platform: vereda
sites:
  built:
    folder: site
    command: [${node}, build.mjs, "{id}", "{out}"]
    pages: [{ role: front, file: index.html, holds: ["themes/{id}/sheet.css"], lacks: [Fatal] }]
    failures: ['(?P<file>\\S+):(?P<line>[0-9]+): no such partial']
  served: { folder: site, server: [${node}, serve.mjs, "{id}", "{port}"], pages: [{ role: front, address: / }, { role: gone, address: /nowhere }] }
  ending: { folder: site, server: [${node}, serve.mjs, "{id}", "{port}"], pages: [{ role: front, address: /ends }, { role: after, address: / }] }
  logging: { folder: site, server: [${node}, serve.mjs, "{id}", "{port}"], logs: ['*.log'], pages: [{ role: front, address: /logs }], failures: ['mistake in (?P<file>\\S+)'] }
  unseen: { folder: site, command: [${node}, -e, ""] }
  moving: { folder: site, server: [${node}, serve.mjs, "{id}", "{port}"], pages: [{ role: front, address: /away }, { role: other, address: /on }] }
  slow: { folder: site, command: [${node}, sleep.mjs], seconds: 1 }
  bare: { folder: site }
  absent: { folder: site, command: [no-such-program] }
${more}`,
  });
  return place;
}

describe('a theme on a real site', () => {
  it('that builds pages works or has its mistakes where they are, and the site is never touched', async () => {
    const place = withSites();
    const before = snapshot(place.path('site'));
    const good = await place.run('rehearse', 'paso', '--site', 'built', '--yes');
    expect([good.status, good.stdout]).toEqual([
      0,
      expect.stringMatching(/✓ paso works on the site “built”; 1 page looked at\n\n {2}✓ front {2}index\.html/),
    ]);
    writeFiles(place.path('paso'), { 'main.html': '{{> nowhere}}\n' });
    const report = (await place.json('rehearse', 'paso', '--site', 'built', '--yes')) as {
      findings: { rule: string; file: string; line: number }[];
    };
    expect(report.findings.map(({ rule, file, line }) => `${rule} ${file}:${line}`)).toEqual(['site/failure main.html:1', 'site/page :1']);
    expect(snapshot(place.path('site'))).toEqual(before);
  });

  it('that is served has every file that it asks for looked at, and ends with its children', async () => {
    const { stdout, status } = await withSites().run('rehearse', 'paso', '--site', 'served', '--yes');
    expect([status, stdout]).toEqual([1, expect.stringMatching(/✗ front {2}\/ +200 {2}1 file loaded, 1 problem\n {2}✗ gone/)]);
    expect(stdout).toMatch(/asks for \/themes\/paso\/gone\.png, which was answered with 404[^]*\(\/nowhere\) was answered with 404/);
    const left =
      readFileSync('/proc/self/stat') && existsSync('/proc')
        ? (await import('node:child_process')).spawnSync('pgrep', ['-f', 'child-of-']).stdout.toString()
        : '';
    expect(left).toBe('');
  });

  it.each([
    ['stops at a page', 'ending', ['site/page :1', 'site/page :1'], /“front” \(\/ends\) was not answered/],
    ['makes no page', 'unseen', ['site/page :1'], /“front” was not made: there is no index\.html/],
    ['sends on', 'moving', ['site/page :1', 'site/page :1'], /\(\/away\) was answered with 302\n.*\(\/on\) was answered with 404/],
    ['logs a mistake, besides the old ones', 'logging', ['site/failure main.html:1', 'site/page :1'], /^new mistake/m],
  ])('that %s says so of the theme', async (_what, name, places, says) => {
    const place = withSites();
    writeFiles(place.path('site'), { 'site.log': 'old mistake in main.html\n' });
    const { findings } = (await place.json('rehearse', 'paso', '--site', name, '--yes')) as {
      findings: { rule: string; file: string; line: number; message: string }[];
    };
    expect(findings.map(({ rule, file, line }) => `${rule} ${file}:${line}`)).toEqual(places);
    expect(findings.map(({ message }) => message).join('\n')).toMatch(says);
  });

  it('whose folder of themes is a link is not written through it', async () => {
    const place = withSites();
    writeFiles(place.path('shared/paso'), { 'sheet.css': 'mine\n' });
    rmSync(place.path('site/themes'), { recursive: true });
    symlinkSync(place.path('shared'), place.path('site/themes'));
    const before = snapshot(place.path('shared'));
    expect(await place.run('rehearse', 'paso', '--site', 'built', '--yes')).toMatchObject({ status: 0 });
    expect(snapshot(place.path('shared'))).toEqual(before);
  });

  it.each<[string, string[], number, RegExp]>([
    ['takes too long', ['slow'], 1, /was ended after 1 seconds/],
    ['says nothing about its pages', ['bare'], 2, /says neither what makes its pages nor what serves them/],
    ['has a program that is not there', ['absent'], 3, /“no-such-program” cannot be started/],
    ['is not known', ['bilt'], 2, /did you mean “built”/],
  ])('that %s is told of', async (_what, [name = ''], status, says) => {
    const outcome = await withSites().run('rehearse', 'paso', '--site', name, '--yes');
    expect([outcome.status, outcome.stdout + outcome.stderr]).toEqual([status, expect.stringMatching(says)]);
  });

  it('gets nothing of the user’s environment', async () => {
    const place = withSites(`  told: { folder: site, command: [${JSON.stringify(process.execPath)}, home.mjs], failures: ["HOME=.*"] }\n`);
    const { stdout } = place.runWith({ SECRET: 'token' }, 'rehearse', 'paso', '--site', 'told', '--yes');
    expect(stdout).toMatch(/HOME=\S*pionero-site-/);
    expect(stdout).toMatch(/SECRET=undefined/);
  });

  it('is agreed to once, and again when its command changes', async () => {
    const place = withSites();
    expect(await place.run('rehearse', 'paso', '--site', 'built')).toMatchObject({
      status: 2,
      stdout: expect.stringMatching(/build\.mjs \{id\} \{out\}/) as string,
    });
    await place.run('rehearse', 'paso', '--site', 'built', '--yes');
    expect((await place.run('rehearse', 'paso', '--site', 'built')).status).toBe(0);
    const path = place.path('pionero.yaml');
    writeFiles(place.folder, { 'pionero.yaml': readFileSync(path, 'utf8').replace('build.mjs, "{id}"', './build.mjs, "{id}"') });
    expect((await place.run('rehearse', 'paso', '--site', 'built')).status).toBe(2);
  });

  it('is never one that the theme brings', async () => {
    const place = withSites();
    writeFiles(place.path('paso'), { 'pionero.yaml': 'sites: { evil: { folder: ., command: [touch, ran] } }\n' });
    const outcome = await place.runIn('paso', 'rehearse', '--site', 'evil', '--yes');
    expect([outcome.status, outcome.stderr, existsSync(place.path('paso/ran'))]).toEqual([
      2,
      expect.stringMatching(/there is no site “evil” in a pionero\.yaml above the theme/),
      false,
    ]);
  });
});

const isOnlyOffered = process.env['CI'] === undefined;

describe.each([
  {
    host: 'sphinx',
    site: 'handbook',
    isSkipped: !hasBuilder && isOnlyOffered,
    prepare: prepareSite,
    changes: { 'folder: docs ': 'folder: site ', '[sphinx-build': '[/usr/bin/sphinx-build' },
    wrong: ['theme.conf', '[theme]\ninherit = basik\nstylesheet = lumbre.css\n'],
    says: /✗ lumbre on the site “handbook”: 3 problems[^]*no theme named 'basik' found/,
  },
  {
    host: 'roundcube',
    site: 'staging',
    isSkipped: !hasWebmail && isOnlyOffered,
    prepare: prepareWebmail,
    changes: { 'folder: sites/staging': 'folder: site' },
    wrong: ['meta.json', '{ "name": "Lumbre", "extends": "elastik" }\n'],
    says: /✗ lumbre on the site “staging”[^]*the page “login” does not hold “<\/html>”/,
  },
])('the real host $host, as docs/sites.md describes it', ({ host, site, isSkipped, prepare, changes, wrong, says }) => {
  it.skipIf(isSkipped)(
    'shows a theme, and what is wrong with it',
    async () => {
      const place = new Workplace();
      prepare(place);
      await place.run('new', 'lumbre', '--platform', host, '--kit', 'standard', '--yes');
      const page = readFileSync(new URL('../../docs/sites.md', import.meta.url), 'utf8');
      const described = new RegExp(`\`\`\`yaml\n(sites:\n {2}${site}[^]*?)\`\`\``).exec(page)?.[1] ?? '';
      const ours = Object.entries(changes).reduce((text, [theirs, own]) => text.replace(theirs, own), described);
      writeFiles(place.folder, { 'pionero.yaml': ours });
      const good = await place.run('rehearse', 'lumbre', '--site', site, '--yes');
      expect([good.status, good.stdout]).toEqual([0, expect.stringContaining(`✓ lumbre works on the site “${site}”`)]);
      const [path = '', text = ''] = wrong;
      writeFiles(place.path('lumbre'), { [path]: text });
      const bad = await place.run('rehearse', 'lumbre', '--site', site, '--yes');
      expect([bad.status, bad.stdout]).toEqual([1, expect.stringMatching(says)]);
    },
    30_000,
  );
});
