import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, readdirSync, rmSync, statSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { makeSymlink } from '../support/needs.ts';
import { assertAsPlanned } from '../../src/core/changes/assert-as-planned.ts';
import { applyPlan } from '../../src/core/changes/apply.ts';
import { realDiskWriter, type DiskWriter } from '../../src/core/changes/disk-writer.ts';
import { Journal, type JournalEntry } from '../../src/core/changes/journal.ts';
import { clearLocks, LockedError, withLocks } from '../../src/core/changes/lock.ts';
import { thisProcess } from '../../src/core/changes/process-identity.ts';
import { recover } from '../../src/core/changes/recover.ts';
import { clearTemporaries, withTemporary } from '../../src/core/changes/temporary.ts';
import { RefusedError } from '../../src/core/errors.ts';
import { DiskTree } from '../../src/core/files/disk-tree.ts';
import { PROGRAM, Workplace, type Outcome } from '../support/program.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

const SHEET = '/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\nsummary: A hut\n---*/\n';

function withPaso(): Workplace {
  const place = new Workplace();
  writeFiles(place.path('paso'), { 'sheet.css': SHEET, 'main.html': '<p>x</p>\n' });
  return place;
}

const pendingOf = (place: Workplace): string => place.path('.state/pionero/journal/pending');

/** Several runs of the program at once. */
async function together(place: Workplace, ...lines: readonly string[][]): Promise<Outcome[]> {
  const run = (argv: readonly string[]): Promise<Outcome> =>
    new Promise((resolve) => {
      const child = place.startPiped(...argv);
      let stdout = '';
      child.stdout?.on('data', (part: Buffer) => (stdout += part.toString()));
      child.on('close', (status) => resolve({ status, stdout, stderr: '' }));
    });
  return Promise.all(lines.map(run));
}

describe('two commands at once', () => {
  it('on one theme: each change that is said to be made is there', async () => {
    for (let round = 0; round < 4; round++) {
      const place = withPaso();
      const outcomes = await together(
        place,
        ['meta', 'set', 'paso', 'title=One', '--yes'],
        ['meta', 'set', 'paso', 'summary=Two', '--yes'],
        ['meta', 'set', 'paso', 'version=3.0.0', '--yes'],
      );
      const sheet = readFileSync(place.path('paso/sheet.css'), 'utf8');
      const made = ['title: One', 'summary: Two', 'version: 3.0.0'].map((line) => sheet.includes(line));
      expect(made).toEqual(outcomes.map(({ status }) => status === 0));
      expect(made).toContain(true);
      expect(outcomes.every(({ status }) => status === 0 || status === 1)).toBe(true);
    }
  });

  it('that make the same theme: one does, one refuses, and nothing is mixed', async () => {
    const place = withPaso();
    const outcomes = await together(
      place,
      ['clone', 'paso', 'lumbre', '--yes', '--title', 'A'],
      ['clone', 'paso', 'lumbre', '--yes', '--title', 'B'],
    );
    expect(outcomes.map(({ status }) => String(status)).sort()).toEqual(['0', '1']);
    const title = outcomes[0]?.status === 0 ? 'A' : 'B';
    expect(readFileSync(place.path('lumbre/sheet.css'), 'utf8')).toContain(`title: ${title}`);
    expect(readdirSync(place.folder).sort()).toEqual(['.state', 'lumbre', 'paso']);
  });

  it('that rename or undo the same theme: one does', async () => {
    const place = withPaso();
    const before = snapshot(place.path('paso'));
    const renamed = await together(place, ['rename', 'paso', 'lumbre', '--yes'], ['rename', 'paso', 'cierzo', '--yes']);
    expect(renamed.filter(({ status }) => status === 0)).toHaveLength(1);
    const undone = await together(place, ['undo', '--yes'], ['undo', '--yes']);
    expect(undone.filter(({ status }) => status === 0)).toHaveLength(1);
    expect(snapshot(place.path('paso'))).toEqual(before);
  });
});

describe('a lock', () => {
  it('is refused while somebody else has it, with who, since when, and what to do', async () => {
    const place = new Workplace();
    const other = spawn(process.execPath, ['-e', 'setTimeout(() => {}, 60_000)']);
    const journal = new Journal(place.folder);
    const { locks } = journal;
    const work = { roots: [place.path('paso')], title: 'two', now: 2 };
    await withLocks(journal, { ...work, title: 'one' }, async () => {
      // As another process would hold it: the same file, another holder.
      const file = readdirSync(locks).find((name) => name.endsWith('.lock')) ?? '';
      const holder = JSON.parse(readFileSync(join(locks, file), 'utf8')) as object;
      writeFileSync(join(locks, file), JSON.stringify({ ...holder, process: other.pid, started: undefined }));
      const refused = await withLocks(journal, work, async () => 'done').catch((error: unknown) => error);
      expect(refused).toBeInstanceOf(LockedError);
      expect((refused as LockedError).what).toMatch(
        new RegExp(`paso is being changed by another run: “one” \\(process ${other.pid}, since \\d\\d:`),
      );
      expect(await withLocks(journal, { ...work, roots: [place.path('other')] }, async () => 'done')).toBe('done');
      // Its holder is another process by now that only has its number.
      writeFileSync(join(locks, file), JSON.stringify({ ...holder, process: other.pid, started: 'long ago' }));
      expect(await withLocks(journal, work, async () => 'done')).toBe('done');
    });
    other.kill('SIGKILL');
  });

  it('is one for a folder and for a link to it, and is cleared away when its holder is gone', async () => {
    const place = new Workplace();
    mkdirSync(place.path('paso'));
    makeSymlink('paso', place.path('link'));
    const journal = new Journal(place.folder);
    const { locks } = journal;
    await withLocks(journal, { roots: [place.path('paso')], title: 'a', now: 1 }, async () => {
      await expect(withLocks(journal, { roots: [place.path('link')], title: 'b', now: 1 }, async () => 1)).rejects.toBeInstanceOf(
        LockedError,
      );
    });
    expect(readdirSync(locks)).toEqual([]);
    writeFileSync(join(locks, 'a.lock'), JSON.stringify({ process: 2 ** 22 + 1, started: 'x', title: 'a', root: '/a', since: 1 }));
    writeFileSync(join(locks, `a.lock-${2 ** 22 + 1}-ab`), '');
    await clearLocks(journal);
    expect(readdirSync(locks)).toEqual([]);
  });
});

describe('what is left of a run that is gone', () => {
  const gone = { process: 2 ** 22 + 1, started: 'x' };

  it('is cleared away when it is ours, and nothing else is', async () => {
    const place = new Workplace();
    const journal = new Journal(place.path('.journal'));
    const records = journal.temporaries;
    writeFiles(place.folder, {
      '.pionero-0123456789ab': 'x',
      precious: 'x',
      '.journal/temporary/a.json': '',
      '.journal/temporary/b.json': '',
      '.journal/temporary/c.json': '{',
    });
    writeFileSync(join(records, 'a.json'), JSON.stringify({ ...gone, path: place.path('.pionero-0123456789ab') }));
    writeFileSync(join(records, 'b.json'), JSON.stringify({ ...gone, path: place.path('precious') }));
    await withTemporary(journal, place.path('.pionero-ffffffffffff'), async () => {
      writeFileSync(place.path('.pionero-ffffffffffff'), 'x');
      await clearTemporaries(journal);
      expect(existsSync(place.path('.pionero-ffffffffffff'))).toBe(true);
    });
    expect([...readdirSync(records), ...readdirSync(place.folder).sort()]).toEqual(['.journal', 'precious']);
  });

  it('is no part of a theme for check, clone and pack', async () => {
    const place = withPaso();
    writeFiles(place.path('paso'), { '.pionero-0123456789ab': 'secret', 'sub/.pionero-001700000000000-0123abcd': 'x' });
    expect((await place.run('check', 'paso')).stdout).not.toContain('.pionero');
    expect(JSON.stringify(await place.json('pack', 'paso'))).not.toContain('.pionero-');
    await place.run('clone', 'paso', 'lumbre', '--yes');
    expect(Object.keys(snapshot(place.path('lumbre'))).join()).not.toContain('.pionero');
  });

  it('is tidied up before a command reads, also by one that only reads', async () => {
    const place = withPaso();
    const before = snapshot(place.path('paso'));
    await place.run('meta', 'set', 'paso', 'title=Two', '--yes');
    // As a kill in the middle leaves it: the entry pending, one file written, one half beside it.
    const done = place.path('.state/pionero/journal/done');
    const [id = ''] = readdirSync(done);
    const entry = JSON.parse(readFileSync(join(done, id, 'entry.json'), 'utf8')) as JournalEntry;
    place.shell(`mkdir -p "${pendingOf(place)}" && mv "${join(done, id)}" "${pendingOf(place)}"`);
    writeFileSync(join(pendingOf(place), id, 'entry.json'), JSON.stringify({ ...entry, ...gone }));
    writeFileSync(place.path('paso/.pionero-0123456789ab'), 'half');
    const shown = await place.run('meta', 'show', 'paso');
    expect(shown.stdout).toMatch(/A run was broken off before: “meta set title \(paso\)” was taken back[^]*title +Paso/);
    expect([snapshot(place.path('paso')), readdirSync(pendingOf(place))]).toEqual([before, []]);
  });

  it('does not stand in the way when its folder was deleted since, or cannot be written', async () => {
    const place = withPaso();
    const journal = new Journal(place.path('.state/pionero/journal'));
    const edits = [{ path: 'sheet.css', before: '0', sha256: 'x' }];
    const entry = { id: '1-a', title: 'x', root: place.path('gone'), time: 1, edits, ...gone };
    await journal.open(entry, [['0', Buffer.from('old')]]);
    // A file in place of the theme's folder: the system refuses, also somebody who may do everything.
    await journal.open({ ...entry, id: '2-b', title: 'y', root: place.path('file/paso') }, [['0', Buffer.from('old')]]);
    writeFileSync(place.path('file'), '');
    await journal.open({ ...entry, id: '3-c', title: 'z', root: place.path('paso') }, [['0', Buffer.from('old')]]);
    rmSync(place.path('paso/sheet.css'));
    mkdirSync(place.path('paso/sheet.css'));
    const blocked = await place.run('explain', 'asset/missing');
    expect([blocked.status, blocked.stdout + blocked.stderr]).toEqual([0, expect.stringMatching(/cannot be tidied up[^]*sheet\.css/)]);
    expect((await place.run('new', 'lumbre', '--platform', 'vereda', '--yes')).status).toBe(3);
    rmSync(place.path('paso/sheet.css'), { recursive: true });
    expect((await place.run('explain', 'asset/missing')).stdout).toMatch(/“z” was taken back/);
    expect([readFileSync(place.path('paso/sheet.css'), 'utf8'), readdirSync(pendingOf(place))]).toEqual(['old', []]);
  });

  it('stops nobody when it cannot be read', async () => {
    const place = withPaso();
    for (const [id, text] of [
      ['000001700000000000-aa', '{ not json'],
      ['000001700000000001-ab', '{"id":"other"}'],
      ['000001700000000002-ac', 'null'],
    ] as const)
      writeFiles(pendingOf(place), { [`${id}/entry.json`]: text });
    const outcome = await place.run('meta', 'set', 'paso', 'title=Two', '--yes');
    expect([outcome.status, outcome.stdout.match(/cannot be read, and was moved to .*broken/g)?.length]).toEqual([0, 3]);
    expect((await place.run('check', 'paso')).stdout).not.toContain('journal');
  });

  it('is not read again by every command once its change is applied, until someone changes it', async () => {
    const place = withPaso();
    await place.run('meta', 'set', 'paso', 'title=Two', '--yes');
    const done = join(pendingOf(place), '../done');
    const [id = ''] = readdirSync(done);
    const file = join(done, id, 'entry.json');
    const time = 1_700_000_000;
    const said = async () => ((outcome) => outcome.stdout + outcome.stderr)(await place.run('explain', 'asset/missing'));
    utimesSync(file, time, time);
    await said();
    // Nobody who reads it would take it for an entry.
    writeFileSync(file, ' '.repeat(statSync(file).size));
    utimesSync(file, time, time);
    expect(await said()).not.toMatch(/broken/);
    utimesSync(file, time, time + 1);
    expect(await said()).toMatch(/cannot be read, and was moved to .*broken/);
  });

  it('is left to a run that goes on', async () => {
    const place = withPaso();
    const journal = new Journal(place.path('.journal'));
    const other = spawn(process.execPath, ['-e', 'setTimeout(() => {}, 60_000)']);
    const entry = { id: '1-a', title: 'x', root: place.path('paso'), time: 1, edits: [] };
    await journal.open({ ...entry, process: other.pid ?? 0 }, []);
    expect((await recover(journal)).takenBack).toEqual([]);
    other.kill('SIGKILL');
    await new Promise((resolve) => other.on('exit', resolve));
    expect((await recover(journal)).takenBack).toEqual(['x']);
    await journal.open({ ...entry, ...thisProcess, started: 'another start' }, []);
    expect((await recover(journal)).takenBack).toEqual(['x']);
  });
});

describe('work that goes on while a question is on the screen', () => {
  const planOf = (place: Workplace) => {
    const tree = new DiskTree(place.path('paso'));
    const operations = tree.entries.map(({ path, size, mode }) => ({ op: 'create', path, content: { tree, path }, size, mode }) as const);
    return { title: 'clone', root: place.path('lumbre'), isNewRoot: true, operations };
  };

  it.each<[what: string, change: (place: Workplace) => void]>([
    ['a file is saved', (place) => writeFileSync(place.path('paso/main.html'), '<p>y</p>\n')],
    ['a file comes', (place) => writeFileSync(place.path('paso/new.html'), 'x')],
    ['a file goes', (place) => rmSync(place.path('paso/main.html'))],
    ['a link comes in its place', (place) => place.shell('cd paso && rm main.html && ln -s sheet.css main.html')],
  ])('%s: nothing is written', async (_what, change) => {
    const place = withPaso();
    const plan = planOf(place);
    await assertAsPlanned(plan);
    change(place);
    const now = snapshot(place.path('paso'));
    for (const each of [plan, { ...plan, replaces: place.path('paso') }]) {
      const refused = applyPlan(each, { journal: new Journal(place.path('.journal')), now: 1 });
      await expect(refused).rejects.toThrow(/changed after the plan was made/);
    }
    expect([snapshot(place.path('paso')), existsSync(place.path('lumbre'))]).toEqual([now, false]);
  });

  it.each([
    ['meta set paso title=Two', 'printf "/* mine */\\n" >> paso/sheet.css'],
    ['check paso --fix', 'printf "mine" > paso/main.html'],
    ['rename paso lumbre', 'printf "mine" > paso/new.html'],
    ['clone paso lumbre', 'rm paso/main.html'],
  ])('“%s”, asking on a terminal, loses nothing of it', (line, work) => {
    const place = withPaso();
    writeFiles(place.path('paso'), { 'partials/a.html': '<p>a</p>\r\nb\n', 'main.html': '{{> a}}\r\nb\n' });
    const asked = `"${process.execPath}" "${PROGRAM}" ${line}`;
    const outcome = place.shell(
      `(until grep -q "y/N" out 2>/dev/null; do sleep 0.1; done; ${work}; printf 'y\\n') | script -qefc '${asked}' out; echo "status $?"`,
    );
    expect(outcome.stdout).toMatch(/changed after the plan was made[^]*run it again[^]*status 1/);
    const after = snapshot(place.path('paso'));
    place.shell(work);
    expect([snapshot(place.path('paso'))['main.html'], existsSync(place.path('lumbre'))]).toEqual([after['main.html'], false]);
  });

  it('a file is saved while the copy is being built: nothing is made of the half of it', async () => {
    const place = withPaso();
    const writer: DiskWriter = {
      ...realDiskWriter,
      async makeFolder(path, mode) {
        writeFileSync(place.path('paso/main.html'), 'saved in between');
        return realDiskWriter.makeFolder(path, mode);
      },
    };
    const applied = applyPlan(planOf(place), { journal: new Journal(place.path('.journal'), writer), now: 1 });
    await expect(applied).rejects.toThrow(/changed after the plan was made/);
    expect(readdirSync(place.folder).sort()).toEqual(['.journal', 'paso']);
  });

  it('a document is saved: the edit of the one that was planned on is refused, and made when only its time changed', async () => {
    const place = withPaso();
    const before = Buffer.from(SHEET);
    const edit = { op: 'edit', path: 'sheet.css', before, bytes: Buffer.from('new') } as const;
    const plan = { title: 'x', root: place.path('paso'), isNewRoot: false, operations: [edit] };
    writeFileSync(place.path('paso/sheet.css'), 'mine');
    await expect(applyPlan(plan, { journal: new Journal(place.path('.journal')), now: 1 })).rejects.toBeInstanceOf(RefusedError);
    expect(readFileSync(place.path('paso/sheet.css'), 'utf8')).toBe('mine');
    writeFileSync(place.path('paso/sheet.css'), before);
    await applyPlan(plan, { journal: new Journal(place.path('.journal')), now: 1 });
    expect(readFileSync(place.path('paso/sheet.css'), 'utf8')).toBe('new');
  });
});
