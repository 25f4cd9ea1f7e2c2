import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { Workplace } from '../support/program.ts';
import { lacks, makeSymlink, need, runTool } from '../support/needs.ts';
import { prepareBlog } from '../support/hexo.ts';
import { prepareManual } from '../support/mkdocs.ts';
import { prepareWebmail } from '../support/roundcube.ts';
import { describeSite } from '../support/sites.ts';
import { prepareSite } from '../support/sphinx.ts';
import { kitFiles, platformNamed, snapshot, writeFiles } from '../support/trees.ts';

/** Makes a page of the theme’s own: what a host that builds pages does, in a few lines. */
const BUILDER = `import { mkdirSync, readFileSync, writeFileSync, cpSync } from 'node:fs';
const [id, out] = process.argv.slice(2);
const page = readFileSync('themes/' + id + '/main.html', 'utf8');
if (page.includes('{{> nowhere}}')) { console.error(process.cwd() + '/themes/' + id + '/main.html:1: no such partial'); process.exit(1); }
mkdirSync(out + '/themes', { recursive: true });
cpSync('themes', out + '/themes', { recursive: true });
writeFileSync(out + '/index.html', '<link rel="stylesheet" href="themes/' + id + '/sheet.css"><link rel="start" href="./">' + page.replaceAll('{{{theme.path}}}', 'themes/' + id));
`;

const SERVER = `import { createServer } from 'node:http';
import { appendFileSync, existsSync, readFileSync } from 'node:fs';
import { spawn } from 'node:child_process';
const [id, port] = process.argv.slice(2);
spawn(process.execPath, ['-e', 'setInterval(() => {}, 1000)', 'child-of-' + port], { stdio: 'ignore' });
createServer((request, response) => {
  if (request.url === '/ends') process.exit(1);
  if (request.url === '/large') for (const kept = []; ; ) kept.push(Buffer.alloc(1 << 20, 1));
  if (request.url === '/told') appendFileSync('site.log', 'made from ' + process.cwd() + '/themes/' + id + '/pages/front.html\\n');
  if (request.url === '/said') return response.end('<!-- themes/vereda-basis/main.html -->' + Math.random());
  if (request.url === '/away') return response.writeHead(302, { location: 'http://127.0.0.2:1/' }).end();
  const picture = (base, name) => '<img src="' + base + '/' + name + '.png">';
  if (request.url === '/whole') return response.end([['http://127.0.0.1:' + port, 'a'], ['//localhost:' + port, 'b'], ['https://hut.example/', 'c'], ['https://albar.example', 'd']].map(([base, name]) => picture(base, name)).join(''));
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
    'greedy.mjs': 'const kept = []; for (;;) kept.push(Buffer.alloc(1 << 20, 1));\n',
    'lint.mjs':
      "import { readFileSync } from 'node:fs';\nif (readFileSync(process.argv[2], 'utf8').includes('wrong')) { console.log('\\nnot well formed on line 2'); process.exit(1); }\n",
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
  asking: { folder: site, command: [${node}, -e, "console.log('no part called “nowhere”'); process.exit(1)"], failures: ['^no part called'] }
  logging: { folder: site, server: [${node}, serve.mjs, "{id}", "{port}"], logs: ['*.log'], pages: [{ role: front, address: /logs }], failures: ['mistake in (?P<file>\\S+)'] }
  whole: { folder: site, base-urls: ['https://hut.example/'], server: [${node}, serve.mjs, "{id}", "{port}"], pages: [{ role: front, address: /whole }, { role: gone, address: /nowhere, status: 404 }, { role: sheet, address: /themes/paso/sheet.css, status: 404 }] }
  unseen: { folder: site, command: [${node}, -e, ""] }
  moving: { folder: site, server: [${node}, serve.mjs, "{id}", "{port}"], pages: [{ role: front, address: /away }, { role: other, address: /on }] }
  large: { folder: site, server: [${node}, serve.mjs, "{id}", "{port}"], memory: 200, pages: [{ role: front, address: /large }] }
  greedy: { folder: site, command: [${node}, greedy.mjs], memory: 200 }
  telling: { folder: site, server: [${node}, serve.mjs, "{id}", "{port}"], logs: ['*.log'], made-by: ['^made from (?P<file>\\S+)', '<!-- (?P<file>\\S+) -->'], pages: [{ role: front, address: /told }, { role: other, address: /said }] }
  slow: { folder: site, command: [${node}, sleep.mjs], seconds: 1 }
  ready: { folder: site, prepare: [[${node}, -e, "require('fs').writeFileSync('ready.txt', '{id}')"]], command: [${node}, -e, "console.log('\\u001b[33mit is \\u001b[0m' + require('fs').readFileSync('ready.txt', 'utf8'))"], failures: ['^it is .*'] }
  unready: { folder: site, prepare: [[${node}, -e, "console.log('no beds'); process.exit(3)"]], command: [${node}, build.mjs, "{id}", "{out}"] }
  linted: { folder: site, lint: [{ files: ["*.html"], command: [${node}, lint.mjs, "{file}"] }], command: [${node}, build.mjs, "{id}", "{out}"] }
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
    expect([status, stdout]).toEqual([
      1,
      expect.stringMatching(/✗ front {2}\/ +200 {2}1 file loaded, 1 of its own, 1 problem\n {2}✗ gone +\/nowhere {2}404 {2}1 problem/),
    ]);
    expect(stdout).toMatch(/asks for \/themes\/paso\/gone\.png, which was answered with 404[^]*\(\/nowhere\) was answered with 404/);
    const left = readFileSync('/proc/self/stat') && existsSync('/proc') ? runTool('pgrep', ['-f', 'child-of-']).stdout : '';
    expect(left).toBe('');
  });

  it('is asked for what pages call by a whole address of its own, and may have pages that are right with another status', async () => {
    const report = (await withSites().json('rehearse', 'paso', '--site', 'whole', '--yes')) as { findings: { message: string }[] };
    expect(report.findings.map(({ message }) => message)).toEqual([
      ...['a', 'b', 'c'].map((name) => `the page “front” asks for /${name}.png, which was answered with 404`),
      'the page “sheet” (/themes/paso/sheet.css) was answered with 200, and not with 404',
    ]);
  });

  it.each([
    ['stops at a page', 'ending', ['site/page :1', 'site/page :1'], /“front” \(\/ends\) was not answered/],
    ['makes no page', 'unseen', ['site/page :1'], /“front” was not made: there is no index\.html/],
    ['sends on', 'moving', ['site/page :1', 'site/page :1'], /\(\/away\) was answered with 302\n.*\(\/on\) was answered with 404/],
    ['stops at a part that a template asks for', 'asking', ['site/failure main.html:2', 'site/page :1'], /^no part called “nowhere”/m],
    ['logs a mistake, besides the old ones', 'logging', ['site/failure main.html:1', 'site/page :1'], /^new mistake/m],
  ])('that %s says so of the theme', async (_what, name, places, says) => {
    const place = withSites();
    writeFiles(place.path('site'), { 'site.log': 'old mistake in main.html\n' });
    writeFiles(place.path('paso'), { 'main.html': '<html>\n{{> nowhere}}\n' });
    const { findings } = (await place.json('rehearse', 'paso', '--site', name, '--yes')) as {
      findings: { rule: string; file: string; line: number; message: string }[];
    };
    expect(findings.map(({ rule, file, line }) => `${rule} ${file}:${line}`)).toEqual(places);
    expect(findings.map(({ message }) => message).join('\n')).toMatch(says);
  });

  it('is prepared first, and a site that is not ready shows nothing', async () => {
    const said = async (site: string) => (await withSites().run('rehearse', 'paso', '--site', site, '--yes')).stdout.replace(/\s+/g, ' ');
    expect(await said('ready')).toMatch(/✗ it is paso/);
    expect(await said('unready')).toMatch(/1 problem; 0 pages.*not ready: “\S+ -e .*” failed \(exit status 3\): no beds/);
  });

  it('has the host’s own tools look at the files that it has not yet', async () => {
    const place = withSites();
    const linted = async () => ((await place.json('rehearse', 'paso', '--site', 'linted', '--yes')) as { findings: object[] }).findings;
    writeFiles(place.path('paso'), { 'pages/deep.html': 'wrong\n', 'wrong.html': '\nwrong\n' });
    expect(await linted()).toMatchObject([{ rule: 'site/failure', file: 'wrong.html', line: 2, message: 'not well formed on line 2' }]);
    writeFiles(place.path('site/themes/paso'), { 'wrong.html': '\nwrong\n' });
    expect(await linted()).toEqual([]);
  });

  it('whose folder of themes is a link is not written through it', async () => {
    const place = withSites();
    writeFiles(place.path('shared/paso'), { 'sheet.css': 'mine\n' });
    rmSync(place.path('site/themes'), { recursive: true });
    makeSymlink(place.path('shared'), place.path('site/themes'));
    const before = snapshot(place.path('shared'));
    expect(await place.run('rehearse', 'paso', '--site', 'built', '--yes')).toMatchObject({ status: 0 });
    expect(snapshot(place.path('shared'))).toEqual(before);
  });

  it.each<[string, string[], number, RegExp]>([
    ['takes too long', ['slow'], 1, /was ended: its command ran for more than 1 seconds/],
    ['takes too much memory', ['greedy'], 1, /was ended: its processes took more than 200 MiB of memory/],
    ['takes too much at a page', ['large'], 1, /was ended: its processes took more than 200 MiB[^]*“front” \(\/large\) was not answered/],
    ['says nothing about its pages', ['bare'], 2, /says neither what makes its pages nor what serves them/],
    ['has a program that is not there', ['absent'], 3, /“no-such-program” cannot be started/],
    ['is not known', ['bilt'], 2, /did you mean “built”/],
  ])('that %s is told of', async (_what, [name = ''], status, says) => {
    if (/memory|at a page/.test(_what)) need('unix');
    const outcome = await withSites().run('rehearse', 'paso', '--site', name, '--yes');
    expect([outcome.status, outcome.stdout + outcome.stderr]).toEqual([status, expect.stringMatching(says)]);
  });

  it('may keep themes elsewhere, beside the host’s own ones, where a parent is found', async () => {
    const place = withSites(
      `  elsewhere: { folder: other, home: "looks/{id}", own: [brought], command: [${JSON.stringify(process.execPath)}, list.mjs], failures: ["saw .*"] }\n`,
    );
    const sheet = (more: string): string => `/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\n${more}---*/\n`;
    writeFiles(place.path('other'), {
      'list.mjs':
        "import { readdirSync } from 'node:fs';\nconsole.log('saw', readdirSync('looks').join(), readdirSync('brought').join());\n",
      'looks/.keep': '',
      'brought/valle/sheet.css': sheet('').replace('Paso', 'Valle'),
      'brought/valle/main.html': '<p>x</p>\n',
    });
    writeFiles(place.path('paso'), { 'sheet.css': sheet('parent: valle\nparent-sheet: before\n') });
    const outcome = await place.run('rehearse', 'paso', '--site', 'elsewhere', '--yes');
    expect(outcome.stdout).toMatch(/saw \.keep,paso valle/);
    const installed = await place.run('install', 'paso', '--site', 'elsewhere', '--yes');
    expect([installed.status, installed.stdout]).toEqual([0, expect.stringMatching(/✓ paso is installed in other\/looks\/paso/)]);
    expect(installed.stdout).not.toMatch(/--with-parents/);
  });

  it('is told by which template each page was made, where the host says it', async () => {
    const place = withSites();
    const { pages } = (await place.json('rehearse', 'paso', '--site', 'telling', '--yes')) as { pages: { template: string | null }[] };
    expect(pages.map(({ template }) => template)).toEqual(['pages/front.html', 'themes/vereda-basis/main.html']);
  });

  it('has its findings in the forms that a check has', async () => {
    const { stdout, status } = await withSites().run('rehearse', 'paso', '--site', 'served', '--yes', '--format', 'sarif');
    const { runs } = JSON.parse(stdout) as { runs: { results: { ruleId: string }[] }[] };
    expect([status, runs[0]?.results.map(({ ruleId }) => ruleId)]).toEqual([1, ['site/asset', 'site/page']]);
  });

  describe('beside another', () => {
    const versioned = (version: string, more = ''): Record<string, string> => ({
      'sheet.css': `/*---\ntitle: Paso\nversion: ${version}\nhosts: ">=2"\n${more}---*/\n`,
    });
    const rehearsal = async (place: Workplace, against: string, site = 'built', ...more: string[]) =>
      place.run('rehearse', 'paso', '--site', site, '--yes', '--against', against, ...more);

    it('folder, archive, tag or parent shows what differs page by page', async () => {
      const place = withSites();
      writeFiles(place.path('paso'), { ...versioned('1.0.0'), 'main.html': '<p>one</p>\n<p>two</p>\n' });
      await place.run('pack', 'paso', '--out', 'paso-old.zip');
      const git = (...args: string[]) => runTool('git', args, { cwd: place.path('paso') });
      git('init', '-q');
      git('add', '-A');
      git('-c', 'user.name=Lumbre', '-c', 'user.email=lumbre@hut.example', 'commit', '-qm', 'First');
      git('tag', 'v1.0.0');
      writeFiles(place.path('other/paso'), kitFiles(platformNamed('vereda'), 'paso'));
      writeFiles(place.path('other/paso'), { ...versioned('1.0.0'), 'main.html': '<p>one</p>\n<p>two</p>\n' });
      writeFiles(place.path('paso'), {
        ...versioned('1.1.0'),
        'main.html': '<p>one</p>\n<p>2</p>\n<img src="{{{theme.path}}}/sheet.css">',
      });
      const says = /Against .*: 1 page differs\n\n {2}✓ front +index\.html +1 file loaded, 1 of its own\n {4}\+2 −1 lines\n$/;
      expect((await rehearsal(place, 'other/paso')).stdout).toMatch(says);
      expect((await rehearsal(place, '1.0.0')).stdout).toMatch(/Against paso 1\.0\.0 \(paso-old\.zip\)/);
      rmSync(place.path('paso-old.zip'));
      const { stdout } = await rehearsal(place, '1.0.0', 'built', '--verbose');
      expect(stdout).toMatch(/Against paso 1\.0\.0 \(the tag v1\.0\.0\)/);
      expect(stdout).toMatch(/\n {4}-<p>two<\/p>\n {4}\+<p>2<\/p>\n/);
      expect((await rehearsal(place, 'paso')).stdout).toMatch(/: no page differs\n[^]* the same\n/);
      // What is another at each request is no difference.
      expect((await rehearsal(place, 'paso', 'telling')).stdout).toMatch(/no page differs/);
      expect(await rehearsal(place, '0.9.0')).toMatchObject({
        status: 2,
        stderr: expect.stringMatching(/there is no paso 0\.9\.0/) as string,
      });
      expect(await rehearsal(place, 'parent')).toMatchObject({ status: 2, stderr: expect.stringMatching(/paso has no parent/) as string });
      writeFiles(place.path('paso'), versioned('1.1.0', 'parent: valle\nparentStyles: before\n'));
      writeFiles(place.path('valle'), kitFiles(platformNamed('vereda'), 'valle'));
      writeFiles(place.path('valle'), { 'main.html': '<p>one</p>' });
      const { differences } = (await place.json('rehearse', 'paso', '--site', 'built', '--yes', '--against', 'parent')) as {
        differences: { lost: string[]; gained: string[] }[];
      };
      expect(differences).toMatchObject([{ lost: [], gained: [], added: 3, removed: 1 }]);
    });
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
    makeSymlink('paso', place.path('beside'));
    // However the theme is named.
    for (const theme of ['.', '../paso', '../beside']) {
      const outcome = await place.runIn('paso', 'rehearse', theme, '--site', 'evil', '--yes');
      expect([theme, outcome.status, outcome.stderr, existsSync(place.path('paso/ran'))]).toEqual([
        theme,
        2,
        expect.stringMatching(
          /there is no site “evil” in a pionero\.yaml in the current folder or above it[^]*theme itself does not count/,
        ),
        false,
      ]);
    }
  });
});

describe.each([
  {
    host: 'sphinx',
    site: 'handbook',
    isSkipped: lacks('sphinx'),
    prepare: prepareSite,
    wrong: ['theme.conf', '[theme]\ninherit = basik\nstylesheet = lumbre.css\n'],
    says: /✗ lumbre on the site “handbook”: 3 problems[^]*no theme named 'basik' found/,
  },
  {
    host: 'mkdocs',
    site: 'manual',
    isSkipped: lacks('mkdocs'),
    prepare: prepareManual,
    wrong: ['mkdocs_theme.yml', 'static_templates: [404.html, beds.html]\nlocale: en\n'],
    says: /✗ lumbre on the site “manual”[^]*Template skipped: 'beds.html' not found/,
  },
  {
    host: 'hexo',
    site: 'blog',
    isSkipped: lacks('hexo'),
    prepare: prepareBlog,
    wrong: ['layout/index.ejs', "<p></p>\n<%- partial('beds') %>\n"],
    says: /✗ lumbre on the site “blog”[^]*Partial beds does not exist/,
  },
  {
    host: 'roundcube',
    site: 'staging',
    isSkipped: lacks('roundcube'),
    prepare: prepareWebmail,
    wrong: ['meta.json', '{ "name": "Lumbre", "extends": "elastik" }\n'],
    says: /✗ lumbre on the site “staging”[^]*the page “login” does not hold “<\/html>”/,
  },
])('the real host $host, as docs/sites.md describes it', ({ host, site, isSkipped, prepare, wrong, says }) => {
  it.skipIf(isSkipped)(
    'shows a theme, and what is wrong with it',
    async () => {
      const place = new Workplace();
      prepare(place);
      await place.run('new', 'lumbre', '--platform', host, '--kit', 'standard', '--yes');
      describeSite(place, site);
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
