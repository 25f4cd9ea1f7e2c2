import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { applyPlan } from '../../src/core/changes/apply.ts';
import { applyTogether } from '../../src/core/changes/together.ts';
import { Journal } from '../../src/core/changes/journal.ts';
import { proposeUndo, undoEntry } from '../../src/core/changes/undo.ts';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import { fillPlace } from '../../src/core/theme/place.ts';
import { DiskTree } from '../../src/core/files/disk-tree.ts';
import { planBetween } from '../../src/core/changes/plan-between.ts';
import { withFile } from '../../src/core/files/changed-tree.ts';
import { Workplace } from '../support/program.ts';
import { platformNamed, snapshot, writeFiles } from '../support/trees.ts';

const withParents = shippedPlatforms()
  .filter(({ contract }) => contract.inheritance.kind !== 'none')
  .map(({ contract }) => contract.name);

/** A parent and two children of a platform on a shelf; where themes have vendors, of one. */
async function family(platform: string): Promise<{ place: Workplace; at: (id: string) => string }> {
  const place = new Workplace();
  const isVendored = platform === 'tramo' || platform === 'bloque';
  const vendor = isVendored ? ['--vendor', 'HutLeague'] : [];
  const make = async (id: string, ...more: string[]): Promise<void> => {
    const made = await place.run('new', id, '--platform', platform, ...vendor, '--to', 'shelf', '--shelf', 'shelf', '--yes', ...more);
    expect([made.status, made.stderr]).toEqual([0, '']);
  };
  writeFiles(place.path('shelf'), { '.keep': '' });
  await make('albar', '--kit', 'standard');
  await make('cierzo', '--kit', 'child', '--parent', 'albar');
  await make('neveron', '--kit', 'child', '--parent', 'albar');
  await make('lumbre', '--kit', 'bare');
  return { place, at: (id) => `shelf/${fillPlace(platformNamed(platform), { id, vendor: 'HutLeague' })}` };
}

describe.each(withParents)('a rename of a parent on %s', (platform) => {
  it('is followed by its children, all or none, and taken back as one', async () => {
    const { place, at } = await family(platform);
    const before = snapshot(place.path('shelf'));
    const problems = async (id: string): Promise<string[]> => {
      const { findings } = (await place.json('check', at(id), '--platform', platform, '--no-cache')) as { findings: { rule: string }[] };
      return findings.map(({ rule }) => rule);
    };
    const found = { cierzo: await problems('cierzo'), neveron: await problems('neveron') };
    const report = (await place.json('rename', at('albar'), 'sierra', '--platform', platform, '--yes')) as {
      children: { id: string; files: string[] }[];
    };
    expect(report.children.map(({ id }) => id)).toEqual(['cierzo', 'neveron']);
    expect({ cierzo: await problems('cierzo'), neveron: await problems('neveron') }).toEqual(found);
    const meta = await place.run('meta', 'show', at('cierzo'), '--platform', platform);
    expect(meta.stdout).toMatch(/sierra/);
    // A child that was worked on stands in the way of all.
    const [file = ''] = report.children[0]?.files ?? [];
    const folder = at('cierzo').endsWith(file) ? 'shelf' : at('cierzo');
    const path = place.path(folder, file);
    const bytes = readFileSync(path, 'utf8');
    writeFiles(place.path(folder), { [file]: `${bytes}\n` });
    expect(await place.run('undo', '--yes')).toMatchObject({
      status: 1,
      stderr: expect.stringMatching(/cierzo: changed since|changed since: cierzo/) as string,
    });
    writeFiles(place.path(folder), { [file]: bytes });
    expect(await place.run('undo', '--yes')).toMatchObject({ status: 0 });
    expect(snapshot(place.path('shelf'))).toEqual(before);
  });
});

describe('a rename of a parent', () => {
  it('is shown with its children before it is done, and leaves them where that is asked for', async () => {
    const { place } = await family('vereda');
    const { stdout } = await place.run('rename', 'shelf/albar', 'sierra', '--dry-run');
    expect(stdout).toMatch(/Themes that build on it, and follow\n {2}cierzo {2}sheet\.css\n {2}neveron {2}sheet\.css\n/);
    await place.run('rename', 'shelf/albar', 'sierra', '--no-children', '--yes');
    expect(readFileSync(place.path('shelf/cierzo/sheet.css'), 'utf8')).toMatch(/parent: albar/);
  });

  it('has its copies follow: as they were where they were the parent’s, by the new names where they were changed', async () => {
    const { place } = await family('vereda');
    await place.run('override', 'shelf/cierzo', 'partials/header.html', 'partials/footer.html', '--yes');
    const header = place.path('shelf/cierzo/partials/header.html');
    expect(readFileSync(header, 'utf8')).toContain('{{> albar-menu}}');
    writeFiles(place.path('shelf/cierzo'), { 'partials/header.html': `${readFileSync(header, 'utf8')}<p>Cierzo</p>\n` });
    await place.run('rename', 'shelf/albar', 'sierra', '--yes');
    expect(readFileSync(header, 'utf8')).toMatch(/\{\{> sierra-menu\}\}[^]*<p>Cierzo<\/p>/);
    const drift = (await place.json('drift', 'shelf/cierzo')) as { files: { of: string; state: string; changedHere: boolean }[] };
    expect(drift.files.map(({ of, state, changedHere }) => [of, state, changedHere])).toEqual([
      ['sierra', 'kept', true],
      ['sierra', 'kept', false],
    ]);
    expect(await place.run('check', 'shelf/cierzo', '--no-cache')).toMatchObject({ status: 0 });
  });

  it('is followed by what builds on its children too, where that names what they inherit', async () => {
    const place = new Workplace();
    const common = ['--platform', 'sphinx', '--to', 'shelf', '--shelf', 'shelf', '--yes'];
    writeFiles(place.path('shelf'), { '.keep': '' });
    await place.run('new', 'albar', '--kit', 'standard', ...common);
    await place.run('new', 'cierzo', '--kit', 'child', '--parent', 'albar', ...common);
    await place.run('new', 'neveron', '--kit', 'child', '--parent', 'cierzo', ...common);
    await place.run('override', 'shelf/neveron', 'layout', '--platform', 'sphinx', '--yes');
    writeFiles(place.path('shelf/neveron'), {
      'page.html': '{%- extends "basic/page.html" %}\n{{ pathto("_static/albar.js", 1) }}{{ pathto("_static/own.js", 1) }}\n',
    });
    await place.run('rename', 'shelf/albar', 'sierra', '--platform', 'sphinx', '--yes');
    expect(readFileSync(place.path('shelf/neveron/page.html'), 'utf8')).toContain(
      'pathto("_static/sierra.js", 1) }}{{ pathto("_static/own.js", 1)',
    );
    expect(readFileSync(place.path('shelf/neveron/layout.html'), 'utf8')).toContain("pathto('_static/sierra.js', 1)");
    expect(readFileSync(place.path('shelf/neveron/theme.conf'), 'utf8')).toMatch(/inherit = cierzo/);
    expect(await place.run('check', 'shelf/cierzo', '--platform', 'sphinx', '--no-cache')).toMatchObject({ status: 0 });
  });

  it('changes addresses that lead into its folder, and no others', async () => {
    const { place } = await family('vereda');
    const sheet = readFileSync(place.path('shelf/cierzo/sheet.css'), 'utf8');
    const mine =
      '@import "../albar/sheet.css";\n.albar { background: url(pictures/albar.svg) }\n.a { background: url("../lumbre/albar/b.svg") }\n';
    writeFiles(place.path('shelf/cierzo'), { 'sheet.css': sheet + mine, 'styles/a.css': '.a { background: url(../../albar/a.svg) }\n' });
    await place.run('rename', 'shelf/albar', 'sierra', '--yes');
    expect(readFileSync(place.path('shelf/cierzo/sheet.css'), 'utf8')).toContain(mine.replace('../albar/sheet', '../sierra/sheet'));
    expect(readFileSync(place.path('shelf/cierzo/styles/a.css'), 'utf8')).toBe('.a { background: url(../../sierra/a.svg) }\n');
  });

  it('is not done where a child changes meanwhile', async () => {
    const { place } = await family('vereda');
    const journal = new Journal(place.path('.journal'));
    const plans = ['cierzo', 'neveron', 'lumbre'].map((id) => editOf(place, id));
    writeFiles(place.path('shelf/lumbre'), { 'sheet.css': 'mine\n' });
    const before = snapshot(place.path('shelf'));
    await expect(applyTogether(plans, { journal, now: 1 })).rejects.toThrow(/changed/);
    expect(snapshot(place.path('shelf'))).toEqual(before);
    expect(await journal.list('done')).toEqual([]);
  });

  it('that was broken off between two folders is taken back by the next command', async () => {
    const { place } = await family('vereda');
    const before = snapshot(place.path('shelf'));
    const journal = new Journal(place.path('.state/pionero/journal'));
    await applyPlan(editOf(place, 'cierzo'), { journal, now: 1, together: 'a' });
    await applyPlan(editOf(place, 'neveron'), { journal, now: 2, together: 'a' });
    expect(snapshot(place.path('shelf'))).not.toEqual(before);
    const { stdout } = await place.run('undo', '--list');
    expect(stdout).toMatch(/A run was broken off before: “edit cierzo” was taken back/);
    expect(snapshot(place.path('shelf'))).toEqual(before);
  });

  const THREE = ['cierzo', 'neveron', 'lumbre'];
  it.each(THREE.map((_, i) => i + 1))(
    'whose taking back was broken off after %i of three folders is taken back by the next command',
    async (count) => {
      const { place } = await family('vereda');
      const before = snapshot(place.path('shelf'));
      const journal = new Journal(place.path('.state/pionero/journal'));
      const plans = THREE.map((id) => editOf(place, id));
      await applyTogether(plans, { journal, now: Date.now() });
      // Commands after it have looked at it, and found it whole.
      await place.run('check', 'shelf/albar');
      const last = (await journal.list('done')).toReversed();
      for (const entry of last.slice(0, count)) await undoEntry(await proposeUndo(entry), { journal, now: Date.now() });
      await place.run('check', 'shelf/albar');
      expect([snapshot(place.path('shelf')), await journal.list('done')]).toEqual([before, last.slice(3).toReversed()]);
    },
  );

  it('that is taken off the list leaves all folders as they are', async () => {
    const { place } = await family('vereda');
    const journal = new Journal(place.path('.state/pionero/journal'));
    await applyTogether(
      THREE.map((id) => editOf(place, id)),
      { journal, now: Date.now() },
    );
    const after = snapshot(place.path('shelf'));
    const kept = (await journal.list('done')).slice(0, -3);
    expect((await place.run('undo', '--drop', '--yes')).stdout).toMatch(/is off the list/);
    expect((await place.run('check', 'shelf/albar')).stdout).not.toMatch(/broken off/);
    expect([snapshot(place.path('shelf')), await journal.list('done')]).toEqual([after, kept]);
  });
});

function editOf(place: Workplace, id: string): ReturnType<typeof planBetween> {
  const folder = place.path('shelf', id);
  const tree = new DiskTree(folder);
  const after = withFile(tree, 'sheet.css', Buffer.concat([tree.read('sheet.css'), Buffer.from('\n.added {}\n')]));
  return planBetween(`edit ${id}`, folder, withFile(tree, 'sheet.css', tree.read('sheet.css')), after, new Set(['sheet.css']));
}

it('what is made in a folder that was not there is taken back with it, unless somebody put more there', async () => {
  const place = new Workplace();
  writeFiles(place.path('shelf'), { '.keep': '' });
  const make = async (): Promise<void> => {
    const made = await place.run('new', 'albar', '--platform', 'tramo', '--vendor', 'HutLeague', '--to', 'shelf', '--yes');
    expect(made.status).toBe(0);
  };
  const before = snapshot(place.path('shelf'));
  await make();
  await place.run('undo', '--yes');
  expect(snapshot(place.path('shelf'))).toEqual(before);
  await make();
  writeFiles(place.path('shelf/HutLeague'), { 'notes.txt': 'mine' });
  await place.run('undo', '--yes');
  expect(snapshot(place.path('shelf'))).toMatchObject({ 'HutLeague/notes.txt': expect.stringMatching(/mine/) as string });
});
