import { chmodSync, existsSync, mkdirSync, promises, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it, vi } from 'vitest';
import { has } from '../../scripts/needs.mjs';
import { applyPlan } from '../../src/core/changes/apply.ts';
import { realDiskWriter, type DiskWriter } from '../../src/core/changes/disk-writer.ts';
import { forgetLocks } from '../../src/core/changes/lock.ts';
import { Journal } from '../../src/core/changes/journal.ts';
import type { ChangePlan, Operation } from '../../src/core/changes/plan.ts';
import { recover } from '../../src/core/changes/recover.ts';
import { findLastApplied, undoEntry } from '../../src/core/changes/undo.ts';
import { DiskTree } from '../../src/core/files/disk-tree.ts';
import { FailedOperationError, RefusedError } from '../../src/core/errors.ts';
import { Workplace } from '../support/program.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

async function callStep(writer: DiskWriter, name: keyof DiskWriter, args: never[]): Promise<void> {
  const step: (...all: never[]) => Promise<void> = writer[name];
  return step(...args);
}

/** Does work that dies at its nth step: nothing after it is carried out, nothing is taken back. @returns whether it died */
async function dieAfter(steps: number, work: (writer: DiskWriter) => Promise<unknown>): Promise<boolean> {
  const writer = failingAfter(steps);
  let die = (): void => {};
  const death = new Promise<true>((resolve) => (die = () => resolve(true)));
  const step =
    (name: keyof DiskWriter) =>
    (...args: never[]) =>
      callStep(writer, name, args).catch(() => {
        die();
        return new Promise<void>(() => {});
      });
  const whole = work(new Proxy(writer, { get: (_target, name: keyof DiskWriter) => step(name) })).then(() => false);
  const isDead = await Promise.race([whole, death]);
  forgetLocks();
  return isDead;
}

/** A writer that does `steps` steps and then fails so many times. */
function failingAfter(steps: number, times = Infinity): DiskWriter {
  let left = steps;
  const handler: ProxyHandler<DiskWriter> = {
    get(target, name: keyof DiskWriter) {
      return async (...args: never[]) => {
        if (left-- <= 0 && left >= -times) throw Object.assign(new Error('no space'), { code: 'ENOSPC' });
        return callStep(target, name, args);
      };
    },
  };
  return new Proxy(realDiskWriter, handler);
}

const create = (path: string, text: string): Operation => ({
  op: 'create',
  path,
  content: { bytes: Buffer.from(text) },
  size: text.length,
  mode: 0o644,
});

/** Where there are links. */
const link = (path: string, target: string): Operation[] => (has('links') ? [{ op: 'link', path, target }] : []);

function setUp() {
  const place = new Workplace();
  const theme = place.path('shelf/paso');
  writeFiles(place.path('shelf'), { 'albar.css': 'one', 'beside.css': 'two' });
  chmodSync(place.path('shelf/albar.css'), 0o640);
  writeFiles(theme, { 'a.css': 'one', 'b.css': 'two', '.git/config': 'tool', 'old/c.css': 'three' });
  chmodSync(join(theme, 'old'), 0o555);
  const journal = new Journal(place.path('.journal'));
  const before = snapshot(place.path('shelf'));
  const inPlace: ChangePlan = {
    title: 'mend',
    root: theme,
    isNewRoot: false,
    operations: [
      { op: 'edit', path: 'a.css', before: Buffer.from('one'), bytes: Buffer.from('ONE') },
      { op: 'folder', path: 'new', mode: 0o755 },
      create('new/c.css', 'three'),
      ...link('new/l', 'c.css'),
      { op: 'edit', path: 'b.css', before: Buffer.from('two'), bytes: Buffer.from('TWO') },
    ],
  };
  const newRoot: ChangePlan = {
    title: 'make',
    root: place.path('shelf/lumbre'),
    isNewRoot: true,
    operations: [{ op: 'folder', path: 'sub', mode: 0o755 }, create('sub/a', 'x'), ...link('l', 'sub/a'), create('b', 'y')],
  };
  const replacing: ChangePlan = {
    title: 'rename',
    root: place.path('shelf/cumbre'),
    isNewRoot: true,
    replaces: theme,
    carried: [{ from: '.git', to: '.git' }],
    operations: [
      { op: 'folder', path: 'sub', mode: 0o555 },
      { op: 'create', path: 'sub/a.css', content: { tree: new DiskTree(theme), path: 'a.css' }, size: 3, mode: 0o644 },
      create('b.css', 'TWO'),
    ],
  };
  // The same, with the new folder in the place of the old one.
  const renewing: ChangePlan = { ...replacing, root: theme };
  // A theme that is one file, under another name.
  const file: ChangePlan = {
    title: 'rename',
    root: place.path('shelf/cumbre.css'),
    isNewRoot: true,
    isFile: true,
    replaces: place.path('shelf/albar.css'),
    operations: [
      {
        op: 'create',
        path: 'cumbre.css',
        content: { tree: DiskTree.ofFile(place.path('shelf/albar.css')), path: 'albar.css' },
        size: 3,
        mode: 0o640,
      },
    ],
  };
  return { place, theme, journal, before, plans: { inPlace, newRoot, replacing, renewing, file } };
}

describe.each(['inPlace', 'newRoot', 'replacing', 'renewing', 'file'] as const)('a plan (%s)', (kind) => {
  it.each([
    ['once', 1],
    ['from then on, until the next command', Infinity],
  ])('that fails at any step, %s, leaves everything as it was', async (_when, times) => {
    const complete = setUp();
    await applyPlan(complete.plans[kind], { journal: complete.journal, now: 1 });
    const after = snapshot(complete.place.path('shelf'));
    let failures = 0;
    for (let steps = 0; ; steps++) {
      const { place, journal, before, plans } = setUp();
      let calls = 0;
      const writer = failingAfter(steps, times);
      const counted = new Proxy(writer, { get: (target, name: keyof DiskWriter) => (calls++, target[name]) });
      const outcome = await applyPlan(plans[kind], { journal: new Journal(journal.folder, counted), now: 1 }).catch(
        (error: unknown) => error,
      );
      forgetLocks();
      if (calls <= steps) break;
      if (outcome !== undefined) failures++;
      const isTold = outcome instanceof FailedOperationError && outcome.message.includes('taken back');
      expect(outcome === undefined || isTold).toBe(true);
      const isOpen = outcome instanceof FailedOperationError && outcome.message.includes('could not be taken back yet');
      expect(isOpen && times === 1).toBe(false);
      // A disk that goes on refusing lets nothing be taken back, either: the next command does.
      // Of an applied plan, only what was replaced may still lie about.
      if (times === Infinity || outcome === undefined) await recover(journal);
      const allowed = isOpen ? [before, after] : [outcome === undefined ? after : before];
      expect(allowed, `after step ${steps}`).toContainEqual(snapshot(place.path('shelf')));
      await recover(journal);
      expect(await journal.list('pending')).toEqual([]);
    }
    expect(failures).toBeGreaterThanOrEqual(4);
  });

  it('that is killed at any step is tidied up by the next command', async () => {
    const complete = setUp();
    await applyPlan(complete.plans[kind], { journal: complete.journal, now: 1 });
    const after = snapshot(complete.place.path('shelf'));
    for (let steps = 0, isDead = true; isDead; steps++) {
      const { place, journal, before, plans } = setUp();
      isDead = await dieAfter(steps, async (writer) => applyPlan(plans[kind], { journal: new Journal(journal.folder, writer), now: 1 }));
      await recover(journal);
      expect([before, after]).toContainEqual(snapshot(place.path('shelf')));
    }
  });

  it('can be taken back, byte for byte, once', async () => {
    const { place, theme, journal, before, plans } = setUp();
    await applyPlan(plans[kind], { journal, now: 1 });
    expect(snapshot(place.path('shelf'))).not.toEqual(before);
    const proposal = await findLastApplied(journal, kind === 'inPlace' ? join(theme, 'new') : place.path('shelf'));
    expect(proposal?.changed).toEqual([]);
    if (proposal !== undefined) await undoEntry(proposal, { journal, now: 2 });
    expect(snapshot(place.path('shelf'))).toEqual(before);
    expect(await findLastApplied(journal, place.folder)).toBeUndefined();
  });

  it('that is killed while it is taken back is there or gone, and can be taken back in the end', async () => {
    for (let steps = 0, isDead = true; isDead; steps++) {
      const { place, journal, before, plans } = setUp();
      await applyPlan(plans[kind], { journal, now: 1 });
      const after = snapshot(place.path('shelf'));
      const proposal = await findLastApplied(journal, place.folder);
      isDead = await dieAfter(
        steps,
        async (writer) => proposal && undoEntry(proposal, { journal: new Journal(journal.folder, writer), now: 2 }),
      );
      const again = await findLastApplied(journal, place.folder);
      expect(snapshot(place.path('shelf'))).toEqual(again === undefined ? before : after);
      if (again !== undefined) await undoEntry(again, { journal, now: 3 });
      expect(snapshot(place.path('shelf'))).toEqual(before);
    }
  });

  it('is not taken back over work that was done since', async () => {
    const { place, journal, plans } = setUp();
    await applyPlan(plans[kind], { journal, now: 1 });
    const { root, isFile } = plans[kind];
    const touched = kind === 'inPlace' ? 'a.css' : isFile === true ? 'cumbre.css' : 'b';
    writeFileSync(isFile === true ? root : join(root, touched), 'my work');
    const proposal = await findLastApplied(journal, place.folder);
    expect(proposal?.changed).toEqual([touched]);
    await expect(proposal && undoEntry(proposal, { journal, now: 2 })).rejects.toBeInstanceOf(RefusedError);
  });

  it('stops when it is interrupted', async () => {
    const { place, journal, before, plans } = setUp();
    await expect(applyPlan(plans[kind], { journal, now: 1, signal: AbortSignal.abort() })).rejects.toThrow(/interrupted/);
    expect(snapshot(place.path('shelf'))).toEqual(before);
  });
});

it('refuses to write over a theme of one file that was changed after it was planned', async () => {
  const { place, journal } = setUp();
  const root = place.path('shelf/albar.css');
  const tree = DiskTree.ofFile(root);
  const edits = [{ start: 0, end: tree.entries[0]?.size ?? 0, text: 'ONE' }];
  const operation: Operation = { op: 'create', path: 'albar.css', content: { tree, path: 'albar.css', edits }, size: 3, mode: 0o640 };
  const plan: ChangePlan = { title: 'rename', root, isNewRoot: true, isFile: true, replaces: root, operations: [operation] };
  writeFileSync(root, 'my own work');
  await expect(applyPlan(plan, { journal, now: 1 })).rejects.toBeInstanceOf(RefusedError);
  expect(readFileSync(root, 'utf8')).toBe('my own work');
});

it('refuses a new folder where there is one', async () => {
  const { place, journal, plans } = setUp();
  mkdirSync(place.path('shelf/lumbre'));
  await expect(applyPlan(plans.newRoot, { journal, now: 1 })).rejects.toBeInstanceOf(RefusedError);
});

it('looks only at plans of this folder, newest first', async () => {
  const { place, journal, plans } = setUp();
  await applyPlan(plans.newRoot, { journal, now: 1 });
  await applyPlan(plans.inPlace, { journal, now: 2 });
  expect((await findLastApplied(journal, place.folder))?.entry.title).toBe('mend');
  expect((await findLastApplied(journal, plans.newRoot.root))?.entry.title).toBe('make');
  expect(await findLastApplied(journal, place.path('elsewhere'))).toBeUndefined();
  rmSync(plans.newRoot.root, { recursive: true });
  expect((await findLastApplied(journal, plans.newRoot.root))?.changed.length).toBeGreaterThan(0);
});

describe('a folder that was being replaced when the run was killed', () => {
  /** The state in which both folders are there: the new one was moved in, the old one not yet away. */
  async function killedBetween() {
    const { place, theme, journal, before, plans } = setUp();
    const plan = plans.replacing;
    // Folder by folder, file by file, then the move of the new one: the next step would be the one of the old.
    for (let steps = 0; ; steps++) {
      if (existsSync(plan.root)) break;
      if (steps > 0) await recover(journal);
      await dieAfter(steps, async (writer) => applyPlan(plan, { journal: new Journal(journal.folder, writer), now: 1 }));
      expect(steps).toBeLessThan(60);
    }
    expect(existsSync(theme)).toBe(true);
    return { place, theme, journal, before, made: plan.root };
  }

  it('is finished by the next command', async () => {
    const { theme, journal, made } = await killedBetween();
    await recover(journal);
    expect([existsSync(theme), existsSync(made)]).toEqual([false, true]);
    expect(snapshot(made)['.git/config']).toMatch(/tool$/);
    expect(await journal.list('pending')).toEqual([]);
  });

  it('stays the old one when somebody went on working in it', async () => {
    const { theme, journal, made } = await killedBetween();
    writeFileSync(join(theme, 'b.css'), 'my work');
    await recover(journal);
    expect([readFileSync(join(theme, 'b.css'), 'utf8'), existsSync(made)]).toEqual(['my work', false]);
  });

  it('is thrown away on neither side when both were worked in', async () => {
    const { theme, journal, made } = await killedBetween();
    writeFileSync(join(theme, 'b.css'), 'my work');
    writeFileSync(join(made, 'b.css'), 'more work');
    await recover(journal);
    expect([readFileSync(join(theme, 'b.css'), 'utf8'), readFileSync(join(made, 'b.css'), 'utf8')]).toEqual(['my work', 'more work']);
  });
});

it('an entry of which half is removed when the run dies is no broken entry', async () => {
  const { journal } = setUp();
  const gone = 2 ** 22 + 1;
  await journal.open({ id: '1-a', title: 'x', root: '/x', time: 1, process: gone }, [['0', Buffer.from('kept')]]);
  const remove = vi.spyOn(promises, 'rm').mockImplementationOnce(async (path) => {
    rmSync(join(String(path), 'entry.json'));
    throw new Error('killed');
  });
  await journal.drop('pending', '1-a').catch(() => undefined);
  remove.mockRestore();
  expect([await journal.setBrokenAside(), await journal.list('pending')]).toEqual([[], []]);
});

it.each([
  ['another text of the same length', 'eno'],
  ['no text any more', Buffer.from([0, 1, 2])],
])('edits that were planned on a file that is now %s are not made', async (_what, now) => {
  const { theme, journal, plans, place, before } = setUp();
  const tree = new DiskTree(theme);
  expect(tree.entries.length).toBeGreaterThan(0);
  const content = { tree, path: 'a.css', edits: [{ start: 0, end: 3, text: 'ONE' }] };
  const operation: Operation = { op: 'create', path: 'a.css', content, size: 3, mode: 0o644 };
  await new Promise((resolve) => setTimeout(resolve, 20));
  writeFileSync(join(theme, 'a.css'), now);
  const plan: ChangePlan = { ...plans.newRoot, operations: [operation] };
  await expect(applyPlan(plan, { journal, now: 1 })).rejects.toThrow(/changed after the plan/);
  expect(Object.keys(snapshot(place.path('shelf')))).toEqual(Object.keys(before));
});
