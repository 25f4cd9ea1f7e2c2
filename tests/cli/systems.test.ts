import { chmodSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { delimiter, join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { browserPath } from '../../src/cli/io.ts';
import { baseFolder } from '../../src/cli/own-folders.ts';
import { assertNamesFit } from '../../src/core/changes/assert-fitting.ts';
import { patiently } from '../../src/core/changes/patiently.ts';
import { isAlive, isSameStart, thisProcess } from '../../src/core/changes/process-identity.ts';
import { listProcesses, unixProcesses, windowsProcesses } from '../../src/core/changes/process-table.ts';
import { systemReason } from '../../src/core/errors.ts';
import { isWritten } from '../../src/core/files/disk-names.ts';
import { findProgram } from '../../src/core/files/disk-programs.ts';
import { DiskTree } from '../../src/core/files/disk-tree.ts';
import { firstTwins, portableProblem } from '../../src/core/files/portable-names.ts';
import { shellWord } from '../../src/core/text/shell-word.ts';
import { Workplace } from '../support/program.ts';
import { writeFiles } from '../support/trees.ts';

const systemError = (code: string): Error => Object.assign(new Error(`${code}: it`), { code });

describe('what is ours lies where a system has it', () => {
  const windows = { LOCALAPPDATA: '/local', APPDATA: '/roaming' };
  it.each<[NodeJS.Platform, 'state' | 'config' | 'cache', Record<string, string>, string]>([
    ['linux', 'state', {}, join(homedir(), '.local/state')],
    ['linux', 'cache', { XDG_CACHE_HOME: '/kept' }, '/kept'],
    ['linux', 'cache', { XDG_CACHE_HOME: 'kept' }, join(homedir(), '.cache')],
    ['win32', 'state', windows, '/local'],
    ['win32', 'config', windows, '/roaming'],
    ['win32', 'config', { ...windows, XDG_CONFIG_HOME: '/mine' }, '/mine'],
    ['win32', 'cache', {}, join(homedir(), 'AppData/Local')],
    ['darwin', 'state', {}, join(homedir(), 'Library/Application Support')],
    ['darwin', 'cache', {}, join(homedir(), 'Library/Caches')],
  ])('on %s, %s with %j', (platform, kind, env, wanted) => expect(baseFolder(kind, env, platform)).toBe(wanted));

  it('and so does a browser', () => {
    const path = browserPath({ PATH: '/bin', ProgramFiles: '/programs', LOCALAPPDATA: '/local' }, 'win32');
    expect(path).toContain(join('/programs', 'Microsoft/Edge/Application'));
    expect(path).toContain(join('/local', 'Google/Chrome/Application'));
    expect(browserPath({ HOME: '/home/cierzo' }, 'darwin')).toContain(join('/home/cierzo', 'Applications/Chromium.app/Contents/MacOS'));
    expect(browserPath({ PATH: '/bin' }, 'linux')).toBe('/bin');
    expect(browserPath({ PATH: '/bin', PIONERO_WITHOUT: 'chromium' }, 'win32')).toBe('');
  });
});

it('a program is never taken from the current folder, or from one that is none', () => {
  const place = new Workplace();
  writeFiles(place.folder, { 'bin/ropes': '', 'bin/knots.cmd': '', git: '' });
  mkdirSync(place.path('bin/coil'));
  chmodSync(place.path('bin/ropes'), 0o755);
  const bin = place.path('bin');
  expect(['ropes', 'coil', 'gone', 'git'].map((name) => findProgram(name, { path: ['.', bin].join(delimiter), endings: '' }))).toEqual([
    join(bin, 'ropes'),
    undefined,
    undefined,
    undefined,
  ]);
  expect(findProgram('ropes', { path: bin, platform: 'win32', endings: '.EXE;.CMD' })).toBeUndefined();
});

describe('processes are told apart where there is no /proc', () => {
  it.each([
    [
      unixProcesses('  501     1   501  20480 Mon Nov 30 03:24:58 2026\n  502   501   501      0 Mon Nov 30 03:24:59 2026\n'),
      [501, 502],
      [20, 0],
    ],
    [windowsProcesses('4 12 1048576 1796009992933\r\n  40    56    0 \r\nParentProcessId ProcessId WorkingSetSize\r\n'), [12, 56], [1, 0]],
  ])('%#', (entries, ids, mebibytes) => {
    expect([entries.map(({ id }) => id), entries.map((each) => each.mebibytes)]).toEqual([ids, mebibytes]);
    expect(entries[0]?.began).toBe(String(entries[0]?.id === 501 ? Date.parse('Mon Nov 30 03:24:58 2026') : 1_796_009_992_933));
  });

  it('this one is listed, and one that began at another time is not the same', () => {
    expect(listProcesses().some(({ id, parent }) => id === process.pid && parent === process.ppid)).toBe(true);
    expect([isAlive(thisProcess), isAlive({ process: 2 ** 22 + 1 })]).toEqual([true, false]);
    expect([isSameStart('1000', '5000'), isSameStart('1000', '9000'), isSameStart('a/1', 'a/2'), isSameStart('a/1', 'a/1')]).toEqual([
      true,
      false,
      false,
      true,
    ]);
  });
});

describe('a step that meets something in use', () => {
  it.each<[NodeJS.Platform, string, number]>([
    ['win32', 'EPERM', 3],
    ['win32', 'EBUSY', 3],
    ['win32', 'ENOENT', 1],
    ['linux', 'EPERM', 1],
    ['linux', 'EBUSY', 3],
  ])('on %s by %s is tried %i times', async (platform, code, tries) => {
    let made = 0;
    const step = async (): Promise<number> => {
      made += 1;
      if (made < 3) throw systemError(code);
      return made;
    };
    const ended = await patiently(step, platform).catch((error: unknown) => error);
    expect([made, ended instanceof Error]).toEqual([tries, tries === 1]);
  });

  it('is told in words', () => {
    expect(systemReason(systemError('EPERM'), 'win32')).toMatch(/another program has it open/);
    expect(systemReason(systemError('EPERM'), 'linux')).toBe('the operation is not permitted');
    for (const code of ['EBUSY', 'EEXIST', 'ENOTEMPTY', 'ENOTSUP', 'UNKNOWN'])
      expect(systemReason(systemError(code))).not.toMatch(/[A-Z]{4}/);
  });
});

describe('names', () => {
  const plan = (...paths: string[]) => ({
    title: 'clone',
    root: '/x',
    isNewRoot: true,
    operations: paths.map((path) => ({ op: 'folder', path, mode: 0o755 }) as const),
  });

  it.each([
    ['CON', 'device'],
    ['aux.css', 'device'],
    ['com¹', 'device'],
    ['conin$', 'device'],
    ['console.css', undefined],
    ['a:b', 'sign'],
    ['what?', 'sign'],
    ['dot.', 'end'],
    ['blank ', 'end'],
    ['.htaccess', undefined],
    ['A\u0301guila.css', 'form'],
    ['\u00c1guila.css', undefined],
  ])('%s: %s', (name, problem) => {
    expect(portableProblem(name)).toBe(problem);
    const refusal = (platform: NodeJS.Platform): string => {
      try {
        assertNamesFit(plan('docs', `docs/${name}/a.css`), platform);
        return '';
      } catch (error) {
        return String(error);
      }
    };
    const says = problem === undefined || problem === 'form' ? /^$/ : /a name cannot be on this system: “docs\/.*”/;
    expect([refusal('win32'), refusal('linux')]).toEqual([expect.stringMatching(says), '']);
  });

  it.each([
    [
      ['css/a.css', 'css/A.css'],
      ['css/a.css', 'css/A.css'],
    ],
    [
      ['CSS/a.css', 'css/b.css'],
      ['CSS', 'css'],
    ],
    [
      ['A\u0301.css', '\u00c1.css'],
      ['A\u0301.css', '\u00c1.css'],
    ],
    [['css/a.css', 'css/b.css', 'css'], undefined],
  ])('%j are one on some systems: %j', (paths, twins) => expect(firstTwins(paths)).toEqual(twins));

  it('in decomposed letters are composed where the system finds them under either, and left as they are elsewhere', () => {
    const place = new Workplace();
    writeFiles(place.folder, { 'paso/A\u0301ng/A\u0301guila.css': 'a {}', 'paso/sheet.css': '' });
    const there = new DiskTree(place.path('paso'), 'darwin');
    const path = '\u00c1ng/\u00c1guila.css';
    expect([there.get(path)?.kind, there.read(path).toString(), there.get('sheet.css')?.kind]).toEqual(['file', 'a {}', 'file']);
    expect([there.entries.map((entry) => entry.path), there.changes()]).toEqual([['sheet.css', '\u00c1ng', path], []]);
    expect(there.diskPath(path)).toBe(place.path('paso/A\u0301ng/A\u0301guila.css'));
    expect(new DiskTree(place.path('paso'), 'linux').get(path)).toBeUndefined();
  });

  it('with letters and marks apart are told as that, and not as the same name again', async () => {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', 'vereda', '--yes');
    const sheet = readFileSync(place.path('paso/sheet.css'), 'utf8');
    writeFiles(place.path('paso'), { 'A\u0301guila.css': 'a { top: 0 }\n', 'sheet.css': `${sheet}@import url("\u00c1guila.css");\n` });
    expect((await place.run('check', 'paso')).stdout.replaceAll(/\s+/g, ' ')).toMatch(/have their marks apart \(NFD\).*rename the file/);
  });

  it('count as they are written, also where a system finds them in another case', () => {
    const place = new Workplace();
    writeFiles(place.folder, { 'paso/css/Sheet.css': '' });
    expect(
      ['css/Sheet.css', 'css/sheet.css', 'CSS/Sheet.css', 'gone/x'].map((path) => isWritten(place.path('paso'), path, 'darwin')),
    ).toEqual([true, false, false, false]);
  });
});

it.each<[string, NodeJS.Platform, string]>([
  ['albar', 'linux', 'albar'],
  ['albar (1)', 'linux', '"albar (1)"'],
  ['it’s $HOME', 'linux', `'it’s $HOME'`],
  [`a'b $c`, 'linux', String.raw`'a'\''b $c'`],
  ['{id}', 'linux', '{id}'],
  ['{id}', 'win32', '"{id}"'],
  [String.raw`C:\huts\albar`, 'win32', String.raw`C:\huts\albar`],
  [String.raw`C:\my huts`, 'win32', String.raw`"C:\my huts"`],
  [`a'b $c`, 'win32', `'a''b $c'`],
])('the word %s is typed on %s as %s', (word, system, typed) => expect(shellWord(word, system)).toBe(typed));

it('what may not be written by its owner is removed all the same', async () => {
  const { realDiskWriter } = await import('../../src/core/changes/disk-writer.ts');
  const place = new Workplace();
  mkdirSync(place.path('old/sub'), { recursive: true });
  writeFileSync(place.path('old/sub/a.css'), '');
  chmodSync(place.path('old/sub'), 0o555);
  await realDiskWriter.remove(place.path('old'));
  expect(new DiskTree(place.folder).entries.filter(({ path }) => path.startsWith('old'))).toEqual([]);
});
