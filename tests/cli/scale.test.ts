import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { describe, expect, it } from 'vitest';
import { openReport } from '../../src/cli/output/stored-report.ts';
import type { Context } from '../../src/cli/command.ts';
import { Progress, progressText } from '../../src/cli/progress.ts';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import { fillPlace, isOneFile } from '../../src/core/theme/place.ts';
import { Cluster } from '../support/cluster.ts';
import { lacks } from '../support/needs.ts';
import { PROGRAM, Workplace } from '../support/program.ts';
import { runTool } from '../support/needs.ts';
import { kitFiles, platformNamed, snapshot, writeFiles } from '../support/trees.ts';

const EXAMPLES = join(import.meta.dirname, '../../docs/examples/scale');
const BROKEN = '<<<<<<< huts\na\n=======\nb\n>>>>>>> norte\n';

const platforms = shippedPlatforms();
const fail = (): never => {
  throw new Error('no platform');
};

/** Packages of all platforms, each on a shelf of its own; every fourth one has a conflict left in it. */
function withPackages(count: number): Workplace {
  const place = new Workplace();
  const paths = Array.from({ length: count }, (_, i) => {
    const platform = platforms[i % platforms.length] ?? fail();
    const files = kitFiles(platform, 'cierzo');
    const shelf = `shelves/${i % 40}/hut-${i}`;
    const home = `${shelf}/${fillPlace(platform, { id: 'cierzo', vendor: 'HutLeague' })}`;
    writeFiles(
      place.path(isOneFile(platform) ? shelf : home),
      i % 4 === 0 && !isOneFile(platform) ? { ...files, 'notes.css': BROKEN } : files,
    );
    return home;
  });
  writeFiles(place.folder, { 'packages.txt': `${paths.join('\n')}\n` });
  return place;
}

interface Line {
  readonly id?: string;
  readonly position?: number;
  readonly folder: string;
  /** The last line has none. */
  readonly findings?: readonly { readonly rule: string; readonly message: string }[];
}

const linesOf = (text: string): Line[] =>
  text
    .trimEnd()
    .split('\n')
    .map((line) => JSON.parse(line) as Line);
const checkList = (place: Workplace, ...more: string[]) => {
  const { status, stdout, stderr } = place.startAndWait('check', '--from-list', 'packages.txt', '--format', 'jsonl', ...more);
  return { status, stdout, stderr };
};

describe('a list of packages', () => {
  it('is checked alike by any number of threads, and goes on where a run was killed', async () => {
    const place = withPackages(30);
    const whole = checkList(place, '--no-cache', '--jobs', '1');
    const lines = linesOf(whole.stdout);
    expect(lines.slice(0, -1).map(({ position, findings }) => [position, findings?.some(({ rule }) => rule === 'text/conflict')])).toEqual(
      Array.from({ length: 30 }, (_, i) => [i, i % 4 === 0 && !isOneFile(platforms[i % platforms.length] ?? fail())]),
    );
    expect(lines.at(-1)).toMatchObject({ summary: { themes: 30 } });
    expect(checkList(place, '--no-cache', '--jobs', '3')).toEqual(whole);
    const killed = place.startPiped('check', '--from-list', 'packages.txt', '--format', 'jsonl');
    await new Promise<void>((resolve) => killed.stdout?.once('data', () => resolve()));
    killed.kill('SIGKILL');
    expect(checkList(place)).toEqual(whole);
    expect(checkList(place)).toEqual(whole);
    expect((await place.run('cache', 'show')).stdout).toMatch(/30 results/);
    expect((await place.run('cache', 'clear')).stdout).toMatch(/30 results dropped/);
    expect((await place.run('cache', 'show')).stdout).toMatch(/: nothing\./);
  }, 120_000);

  it('has a finding for what takes too long or too much memory, and all others as ever', () => {
    const place = withPackages(30);
    const [slow, large, deep] = ['hut-3/', 'hut-5/', 'hut-8/'];
    writeFiles(place.folder, {
      'pionero.yaml': 'rule-files: [hold.mjs]\n',
      'hold.mjs': `export default { meta: { id: 'hut/hold', severity: 'note', summary: 'x', why: 'x.', messages: { a: 'a' }, example: { none: 'x' } },
        *check({ theme }) {
          const at = theme.tree.disk.root + '/';
          if (at.includes('${slow}')) for (;;);
          if (at.includes('${large}')) for (const all = []; ;) all.push(Array.from({ length: 1000 }, () => ({ at })));
          if (at.includes('${deep}')) (function deeper() { deeper(); })();
        } };`,
    });
    const { stdout } = checkList(place, '--no-cache', '--yes', '--jobs', '2', '--time-limit', '8');
    const failed = linesOf(stdout)
      .slice(0, -1)
      .flatMap(({ folder, findings = [] }) =>
        findings.flatMap(({ rule, message }) => (rule === 'theme/unopened' ? [[folder.split('/')[2], message]] : [])),
      );
    expect(failed).toEqual([
      ['hut-3', expect.stringMatching(/was ended: it took more than 8 seconds/)],
      ['hut-5', expect.stringMatching(/was ended: it took more than (300 MiB of memory|8 seconds)/)],
      ['hut-8', expect.stringMatching(/hut\/hold failed: Maximum call stack/)],
    ]);
    expect(linesOf(stdout)).toHaveLength(31);
  }, 120_000);

  it('may be of archives, which nothing is unpacked of, and of which one is damaged', async () => {
    const place = new Workplace();
    writeFiles(place.path('src/cierzo'), kitFiles(platformNamed('vereda'), 'cierzo'));
    writeFiles(place.path('packed'), { '.keep': '' });
    const packed = await place.run('pack', 'src/cierzo', '--out', 'packed', '--yes');
    expect(packed.status).toBe(0);
    const bytes = readFileSync(place.path('packed/cierzo.zip'));
    const paths = Array.from({ length: 26 }, (_, i) => `in/${i}/cierzo.zip`);
    writeFiles(place.folder, Object.fromEntries(paths.map((path, i) => [path, i === 4 ? bytes.subarray(0, 900) : bytes])));
    writeFiles(place.folder, { 'packages.txt': paths.join('\n') });
    const before = snapshot(place.path('in'));
    const first = checkList(place);
    const broken = linesOf(first.stdout).flatMap(({ position, findings }) => (findings?.length ? [[position, findings[0]?.rule]] : []));
    expect([broken, snapshot(place.path('in'))]).toEqual([[[4, 'theme/unopened']], before]);
    // And they are kept, too.
    expect((await place.run('cache', 'show')).stdout).toMatch(/25 results/);
    expect(checkList(place)).toEqual(first);
  });

  it.each<[done: number, all: number, milliseconds: number, line: string]>([
    [0, 10_000, 5000, 'checking … 0 of 10,000'],
    [40, 10_000, 1000, 'checking … 40 of 10,000'],
    [1000, 10_000, 10_000, 'checking … 1,000 of 10,000; 100 a second, 2 min left'],
    [9900, 10_000, 100_000, 'checking … 9,900 of 10,000; 99 a second, 2 s left'],
    [10, 40_000, 20_000, 'checking … 10 of 40,000; 0.5 a second, 22 h 13 min left'],
  ])('says how far it is: %i of %i after %i ms', (done, all, milliseconds, line) => {
    expect(progressText('checking', done, all, milliseconds)).toBe(line);
  });

  it.each<[what: string, isMachine: boolean, io: Partial<Context['io']>, isSaid: boolean]>([
    ['text on the terminal', false, { hasControls: true }, true],
    ['text in a file', false, {}, true],
    ['text for a pager, which shows it on the terminal', false, { isPiped: true }, false],
    ['lines for a program', true, { isPiped: true }, true],
    ['lines on the terminal', true, { hasControls: true }, false],
  ])('says it beside %s, or not', (_what, isMachine, io, isSaid) => {
    const said: string[] = [];
    const around = { stderr: { write: (text: string) => said.push(text) }, isErrorTerminal: true, now: () => 0, ...io };
    new Progress({ io: around, isMachine, options: { quiet: false } } as unknown as Context, 'checking', 2).add(1);
    expect(said.length > 0).toBe(isSaid);
  });

  it.each<[string, string[], RegExp]>([
    ['a list that is not there', ['check', '--from-list', 'gone.txt'], /there is no file gone\.txt/],
    ['an empty list', ['check', '--from-list', 'empty.txt'], /empty\.txt lists no paths/],
    ['no job around', ['check', '.', '--shard', 'env'], /--shard env finds no job array or matrix around/],
    ['a rule that does not exist', ['check', '.', '--rule-preview', 'asset/mising'], /did you mean “asset\/missing”/],
    [
      'a rule that no module has',
      ['check', 'modules/paso', '--rule-preview', 'hut/bel', '--yes'],
      /no rule “hut\/bel”.*\n.*did you mean “hut\/bell”/,
    ],
  ])('is told of %s', async (_what, argv, says) => {
    const place = new Workplace();
    writeFiles(place.folder, { 'empty.txt': '\n\n' });
    writeFiles(place.path('modules/paso'), kitFiles(platformNamed('vereda'), 'paso'));
    const meta = "id: 'hut/bell', severity: 'note', summary: 'x', why: 'x.', messages: {}, example: { none: 'x' }";
    writeFiles(place.path('modules'), {
      'pionero.yaml': 'rule-files: [bell.mjs]\n',
      'bell.mjs': `export default { meta: { ${meta} }, *check() {} };\n`,
    });
    const modules = argv.includes('--yes') ? 'modules' : '.';
    expect(await place.runIn(modules, ...argv.map((each) => (each === 'modules/paso' ? 'paso' : each)))).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(says) as string,
    });
  });
});

describe('two checks', () => {
  it('are compared: what broke, what was fixed, by which rules, for people, for programs and in a browser', async () => {
    const place = withPackages(12);
    writeFiles(place.folder, { 'pionero.yaml': 'rules: { text/conflict: off }\n' });
    const report = async (name: string, ...more: string[]) => {
      const { stdout } = await place.run('check', '--from-list', 'packages.txt', '--format', 'jsonl', ...more);
      writeFiles(place.folder, { [name]: stdout });
    };
    await report('old.jsonl');
    await report('new.jsonl', '--rule-preview', 'text/conflict');
    const told = await place.run('report', 'compare', 'old.jsonl', 'new.jsonl');
    expect([told.status, told.stdout]).toEqual([
      1,
      expect.stringMatching(/^✗ 12 packages: 3 broke, 9 as before\n[^]*text\/conflict +3 +\+\d+ +−0 +3\n/),
    ]);
    const json = JSON.parse((await place.run('report', 'compare', 'new.jsonl', 'old.jsonl', '--format', 'json')).stdout) as object;
    expect(json).toMatchObject({ summary: { broke: 0, fixed: 3 }, rules: [{ rule: 'text/conflict', packages: 3 }] });
    expect((await place.run('report', 'compare', 'old.jsonl', 'old.jsonl')).stdout).toBe('✓ 12 packages: 12 as before\n');
    await place.run('report', 'compare', 'old.jsonl', 'new.jsonl', '--out', 'page.html');
    expect(readFileSync(place.path('page.html'), 'utf8')).toMatch(/data-rule="text\/conflict"/);
    writeFiles(place.folder, { 'cut.jsonl': readFileSync(place.path('old.jsonl'), 'utf8').split('\n').slice(0, 5).join('\n') });
    expect((await place.run('report', 'compare', 'old.jsonl', 'cut.jsonl')).stderr).toMatch(/cut\.jsonl:5: the report ends too early/);
  });
});

it('a report that someone writes over while it is read is not taken for what it was', async () => {
  const place = withPackages(3);
  const { stdout } = await place.run('check', '--from-list', 'packages.txt', '--format', 'jsonl');
  writeFiles(place.folder, { 'a.jsonl': stdout });
  const { themes } = openReport(place.path('a.jsonl'), 'a.jsonl') ?? fail();
  expect(themes.map(({ read }) => read().id)).toEqual(
    linesOf(stdout)
      .slice(0, 3)
      .map(({ id }) => id),
  );
  for (const text of [stdout.slice(0, 400), `x${stdout}`]) {
    writeFiles(place.folder, { 'a.jsonl': text });
    expect(() => themes[2]?.read()).toThrow(/a\.jsonl changed while it was read/);
  }
});

describe('docs/examples/scale', () => {
  it('checks on the machines of a cluster what one machine checks, also when a job is killed and runs again', async () => {
    const place = withPackages(lacks('cluster') ? 0 : 2000);
    const cluster = new Cluster(place);
    cluster.run('sh', join(EXAMPLES, 'submit.sh'), place.path('packages.txt'), place.path('reports'), '8');
    const eventually = async (isDone: () => boolean): Promise<void> => {
      for (const end = Date.now() + 240_000; !isDone(); await sleep(200))
        if (Date.now() > end) throw new Error(`${cluster.jobs().join(', ')}\n${cluster.log()}`);
    };
    const part = place.path('reports/part-2.jsonl');
    await eventually(() => existsSync(`${part}.begun`) && readFileSync(`${part}.begun`).length > 0);
    const running =
      cluster
        .jobs()
        .find((job) => /_2 R/.test(job))
        ?.split(' ')[0] ?? '';
    cluster.run('scontrol', 'requeue', running);
    await eventually(() => cluster.jobs().some((job) => job.startsWith(`${running} PD`)));
    // It would wait for minutes, in case its node is ill.
    cluster.run('scontrol', 'update', `JobId=${running}`, 'StartTime=now');
    await eventually(() => cluster.jobs().length === 0);
    const whole = place.startAndWait('check', '--from-list', 'packages.txt', '--format', 'jsonl', '--no-cache');
    expect(readFileSync(place.path('reports/whole.jsonl'), 'utf8') === whole.stdout).toBe(true);
  }, 400_000);

  it('checks in the jobs of a matrix what one job checks', () => {
    const place = withPackages(24);
    writeFiles(place.path('bin'), {});
    const env = { ...place.env, PATH: `${place.path('bin')}:${process.env['PATH']}` };
    writeFiles(place.folder, { 'bin/pionero': `#!/bin/sh\nexec "${process.execPath}" "${PROGRAM}" "$@"\n` });
    runTool('sh', ['-c', 'chmod +x bin/pionero'], { cwd: place.folder });
    const job = (script: string, more: NodeJS.ProcessEnv = {}) =>
      runTool('sh', [join(EXAMPLES, script)], { cwd: place.folder, env: { ...env, ...more } }).status;
    const numbers = [1, 2, 3].map((index) => job('matrix-job.sh', { CI_NODE_INDEX: String(index), CI_NODE_TOTAL: '3' }));
    expect([...numbers, job('matrix-merge.sh')]).toEqual([0, 0, 0, 1]);
    const whole = place.startAndWait('check', '--from-list', 'packages.txt', '--format', 'junit');
    expect(readFileSync(place.path('report.xml'), 'utf8')).toBe(whole.stdout);
  }, 60_000);
});
