import { createSocket } from 'node:dgram';
import { chmodSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { setTimeout as sleep } from 'node:timers/promises';
import { describe, expect, it, onTestFinished } from 'vitest';
import { FolderWatcher } from '../../src/cli/folder-watcher.ts';
import { Journal } from '../../src/core/changes/journal.ts';
import { lacks, makeSymlink, need, runTool } from '../support/needs.ts';
import { Workplace } from '../support/program.ts';
import { writeFiles } from '../support/trees.ts';

describe('what others send', () => {
  it.skipIf(lacks('chromium'))(
    'reaches no other program of this machine from a page under --shots',
    async () => {
      const heard: string[] = [];
      const server = createServer((socket) => {
        heard.push('tcp');
        socket.destroy();
      });
      const datagrams = createSocket('udp4', () => void heard.push('udp'));
      await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
      const { port } = server.address() as { port: number };
      await new Promise<void>((resolve) => datagrams.bind(port, '127.0.0.1', resolve));
      onTestFinished(() => {
        server.close();
        datagrams.close();
      });
      const at = `127.0.0.1:${port}`;
      const script = `
        const quietly = (work) => { try { Promise.resolve(work()).catch(() => {}) } catch {} };
        quietly(() => fetch('http://${at}/fetch', { mode: 'no-cors' }));
        quietly(() => new WebSocket('ws://${at}/socket'));
        quietly(() => new EventSource('http://${at}/events'));
        quietly(() => navigator.sendBeacon('http://${at}/beacon', 'x'));
        quietly(() => new WebTransport('https://${at}/transport').ready);
        quietly(async () => {
          const peer = new RTCPeerConnection({ iceServers: [{ urls: ['stun:${at}', 'turn:${at}?transport=udp', 'turn:${at}?transport=tcp'], username: 'a', credential: 'b' }] });
          peer.createDataChannel('x');
          await peer.setLocalDescription(await peer.createOffer());
        });
        quietly(() => new Worker(URL.createObjectURL(new Blob(["new WebSocket('ws://${at}/worker')"]))));
        quietly(() => navigator.serviceWorker.register('sw.js'));
        for (const rel of ['preconnect', 'prefetch', 'dns-prefetch', 'preload']) quietly(() => { const link = document.createElement('link'); link.rel = rel; link.as = 'fetch'; link.href = 'http://${at}/' + rel; document.head.append(link); });`;
      const place = new Workplace();
      await place.run('new', 'paso', '--platform', 'estrato', '--yes');
      writeFiles(place.path('paso'), {
        'templates/record/view.html': `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Paso</title></head><body><main><h1>Paso</h1><img alt="" src="http://${at}/picture"><iframe title="x" src="http://${at}/frame"></iframe><script>${script}</script></main></body></html>\n`,
        'sw.js': `fetch('http://${at}/service', { mode: 'no-cors' })`,
      });
      const { stdout } = await place.run('rehearse', 'paso', '--shots', 'shots');
      await sleep(1000);
      expect([heard, existsSync(place.path('shots')), stdout]).toEqual([[], true, expect.stringMatching(/on \d+ views/)]);
    },
    60_000,
  );

  it.skipIf(lacks('git')).each([
    [
      'filters',
      [
        ['filter.x.clean', 'RUN'],
        ['filter.x.smudge', 'RUN'],
        ['filter.x.process', 'RUN'],
        ['filter.x.required', 'true'],
      ],
    ],
    [
      'a remote that is asked for what is missing',
      [
        ['remote.o.url', 'ext::RUN'],
        ['remote.o.promisor', 'true'],
        ['remote.o.vcs', 'x'],
        ['extensions.partialClone', 'o'],
        ['core.repositoryformatversion', '1'],
        ['protocol.ext.allow', 'always'],
        ['protocol.allow', 'always'],
        ['remote.o.uploadpack', 'RUN'],
      ],
    ],
    [
      'other programs',
      [
        ['core.fsmonitor', 'RUN'],
        ['core.sshCommand', 'RUN'],
        ['core.pager', 'RUN'],
        ['core.editor', 'RUN'],
        ['diff.external', 'RUN'],
        ['diff.x.textconv', 'RUN'],
        ['diff.x.command', 'RUN'],
        ['gpg.program', 'RUN'],
        ['log.showSignature', 'true'],
        ['core.hooksPath', 'HOOKS'],
        ['core.alternateRefsCommand', 'RUN'],
        ['uploadpack.packObjectsHook', 'RUN'],
        ['credential.helper', '!RUN'],
        ['core.askPass', 'RUN'],
      ],
    ],
  ] as [string, [string, string][]][])('in a repository runs nothing where git is asked: %s', async (_what, settings) => {
    const place = new Workplace().withShelf();
    const at = place.path('demo/shelf');
    const git = (...args: string[]) => runTool('git', ['-c', 'user.name=a', '-c', 'user.email=a@hut.example', ...args], { cwd: at });
    writeFiles(at, { '.gitattributes': '* filter=x diff=x\n' });
    git('init', '-q');
    git('add', '-A');
    git('commit', '-qm', 'First');
    git('tag', 'v1.0.0');
    writeFiles(place.folder, { 'evil.sh': `#!/bin/sh\ntouch ${place.path('ran')}\ncat\n`, 'hooks/post-checkout': '' });
    chmodSync(place.path('evil.sh'), 0o755);
    for (const [key, value] of settings)
      git('config', key, value.replace('RUN', place.path('evil.sh')).replace('HOOKS', place.path('hooks')));
    // A file that changed, and one whose object is gone: it would be filtered, or fetched.
    writeFiles(at, { 'albar/sheet.css': `${readFileSync(place.path('demo/shelf/albar/sheet.css'), 'utf8')}\n.albar-new { }\n` });
    const blob = git('rev-parse', 'HEAD:albar/README.md').stdout.trim();
    rmSync(place.path('demo/shelf/.git/objects', blob.slice(0, 2), blob.slice(2)), { force: true });
    for (const argv of [
      ['check', 'albar', '--since', 'HEAD'],
      ['drift', 'albar-noche'],
      ['rehearse', 'albar', '--against', '1.0.0'],
      ['harvest', 'albar', '--to', 'albar', '--dry-run'],
    ]) {
      const outcome = await place.runIn('demo/shelf', ...argv);
      expect([argv, existsSync(place.path('ran')), outcome.status === 70]).toEqual([argv, false, false]);
    }
  });

  it('in a site’s command ends with it, also what left its session, holds its streams and forgot where it came from', async () => {
    need('unix');
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', 'estrato', '--yes');
    mkdirSync(place.path('site/layers'), { recursive: true });
    writeFiles(place.folder, {
      'escape.mjs': `import { spawn } from 'node:child_process';
const left = (env) => spawn(process.execPath, ['-e', 'setInterval(() => {}, 1000)', 'escaped-from-${place.folder}'], { detached: true, stdio: 'inherit', env, cwd: '/' }).unref();
left(process.env); left({}); setTimeout(() => {}, 700);\n`,
      'pionero.yaml': `sites: { own: { folder: site, home: "layers/{id}", seconds: 20, command: ["${process.execPath}", "${place.path('escape.mjs')}"], pages: [{ role: front, file: index.html }] } }\n`,
    });
    const began = Date.now();
    const { status } = await place.run('rehearse', 'paso', '--site', 'own', '--yes');
    expect([status, Date.now() - began < 10_000]).toEqual([1, true]);
    const commandOf = (id: string): string => {
      try {
        return readFileSync(`/proc/${id}/cmdline`, 'latin1');
      } catch {
        // It ended meanwhile.
        return '';
      }
    };
    const others = readdirSync('/proc').filter((id) => /^\d+$/.test(id) && commandOf(id).includes(`escaped-from-${place.folder}`));
    expect(others).toEqual([]);
  });

  it('makes no watcher follow links, out of the theme or in circles', async () => {
    const place = new Workplace();
    mkdirSync(place.path('paso/pages'), { recursive: true });
    mkdirSync(place.path('outside'));
    makeSymlink('.', place.path('paso/a'));
    makeSymlink('..', place.path('paso/pages/up'));
    makeSymlink(place.path('outside'), place.path('paso/out'));
    const heard: string[] = [];
    const watcher = new FolderWatcher((path) => heard.push(path));
    onTestFinished(() => watcher.close());
    watcher.add(place.path('paso'), true);
    writeFiles(place.folder, { 'outside/x.css': 'x', 'paso/pages/front.html': 'x' });
    await expect.poll(() => heard.length).toBeGreaterThan(0);
    makeSymlink('.', place.path('paso/pages/again'));
    await sleep(200);
    expect(new Set(heard.map((path) => path.slice(place.folder.length)))).toEqual(new Set(['/paso/pages/front.html', '/paso/pages/again']));
    // Themes are found once, by whatever way.
    writeFiles(place.folder, { 'shelf/paso/bloque.toml': 'title = "Paso"\n' });
    makeSymlink('.', place.path('shelf/round'));
    const { themes } = (await place.json('check', 'shelf')) as { themes: unknown[] };
    expect(themes.length).toBe(1);
  });

  it('as a journal brings back no bytes from outside it', async () => {
    const place = new Workplace();
    writeFiles(place.folder, { secret: 'x', 'paso/a.css': 'a' });
    const entry = (edit: object) =>
      JSON.stringify({ id: '1', title: 't', root: place.path('paso'), time: 1, process: 1, edits: [{ sha256: '', ...edit }] });
    for (const [i, edit] of [
      { path: 'a.css', before: '../../../secret' },
      { path: '../secret', before: '0' },
      { path: '/secret' },
    ].entries())
      writeFiles(place.path('journal/done', `${i}`), { 'entry.json': entry(edit).replace('"id":"1"', `"id":"${i}"`) });
    writeFiles(place.path('journal/done/9'), { 'entry.json': entry({ path: 'a.css', before: '0' }).replace('"id":"1"', '"id":"9"') });
    expect((await new Journal(place.path('journal')).list('done')).map(({ id }) => id)).toEqual(['9']);
  });
});
