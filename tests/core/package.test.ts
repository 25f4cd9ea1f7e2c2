import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { closeSync, openSync, readFileSync, writeFileSync, writeSync } from 'node:fs';
import { crc32 } from 'node:zlib';
import fc from 'fast-check';
import { describe, expect, it, onTestFinished } from 'vitest';
import { RefusedError } from '../../src/core/errors.ts';
import { DiskTree } from '../../src/core/files/disk-tree.ts';
import { deflateBlock, deflateFiles, type BlockToDeflate } from '../../src/core/archives/deflate-blocks.ts';
import { zipHolds } from '../../src/core/archives/zip.tasks.ts';
import { partsOf } from '../../src/core/parallel/parts.ts';
import { Workers } from '../../src/core/parallel/workers.ts';
import { DeflatedAhead } from '../../src/core/archives/deflated-ahead.ts';
import { MemoryTree, type MemoryItem } from '../../src/core/files/memory-tree.ts';
import { Journal } from '../../src/core/changes/journal.ts';
import { streamOutput } from '../../src/core/changes/write-output.ts';
import { readArchive } from '../../src/core/archives/archive-format.ts';
import { directoryHeader, dosTime, endRecords, localHeader } from '../../src/core/archives/zip-format.ts';
import { formatOfName } from '../../src/core/archives/archive-format.ts';
import { isPackageAsPlanned, planPackage, writePackage, type PackedTheme } from '../../src/core/package/pack-theme.ts';
import type { UnpackedArchive } from '../../src/core/archives/unpacking.ts';
import { lacks, runTool } from '../support/needs.ts';
import { zipOf } from '../support/archives.ts';
import { Workplace } from '../support/program.ts';
import { Theme } from '../../src/core/theme/theme.ts';
import { kitFiles, platformNamed, writeFiles } from '../support/trees.ts';

const vereda = platformNamed('vereda');
/** Packs into a file of the workplace, and says whether what was read back is what was planned. */
async function pack(place: Workplace, items: Iterable<MemoryItem>, { excluded = [] as string[], as = 'zip' } = {}) {
  const platform = as === 'zip' ? vereda : platformNamed('icons');
  const plan = planPackage(new Theme(platform, new MemoryTree(items), { id: 'paso' }, 'paso'), excluded, as);
  const path = place.path(`x.${as}`);
  const packed = await streamOutput(path, new Journal(`${path}.journal`), { write: async (sink) => writePackage(plan, sink) });
  return { ...packed, path, plan, verified: await isPackageAsPlanned(path, plan, packed), unpacked: (await readArchive(path, 'x')).tree };
}
const file = (path: string, content: Buffer, mode = 0o644): MemoryItem => ({
  kind: 'file',
  path,
  content: { bytes: content },
  size: content.length,
  mode,
});

describe('a package', () => {
  it.each(['zip', 'tar.gz'])('unpacks to the same tree, whatever the order of its files (%s)', async (as) => {
    const place = new Workplace();
    const part = fc.stringMatching(/^[a-zé][a-z0-9 é_-]{0,6}$/);
    const path = fc.array(part, { minLength: 1, maxLength: 3 }).map((parts) => `${parts.join('/')}.x`);
    const tree = fc.dictionary(path, fc.tuple(fc.uint8Array({ maxLength: 60 }), fc.constantFrom(0o644, 0o755)), { minKeys: 1, maxKeys: 8 });
    await fc.assert(
      fc.asyncProperty(tree, async (files) => {
        const items = Object.entries(files).map(([name, [content, mode]]) => file(name, Buffer.from(content), mode));
        const packed = await pack(place, items, { as });
        const again = await pack(place, items.toReversed(), { as });
        expect(packed.verified).toBe(true);
        expect(again.sha256).toBe(packed.sha256);
        const { unpacked } = packed;
        for (const entry of unpacked.entries.filter((each) => each.kind === 'file')) {
          const [content, mode] = files[entry.path.slice('paso/'.length)] ?? [];
          expect([unpacked.read(entry.path), entry.mode]).toEqual([Buffer.from(content ?? []), mode]);
        }
      }),
      { numRuns: 40 },
    );
  });

  it.each<[seconds: string, zip: RegExp, tar: string]>([
    ['', /1980-01-01 00:00/, '1970-01-01 00:00'],
    ['1790000000', /2026-09-21 14:13/, '2026-09-21 14:13'],
    ['0', /1980-01-01 00:00/, '1970-01-01 00:00'],
    ['9999999999', /2107-12-31 23:59/, '2286-11-20 17:46'],
  ])('has the time that builds agree on (%j), whatever the clock’s zone', async (seconds, zip, tar) => {
    const place = new Workplace();
    writeFiles(place.path('paso'), kitFiles(vereda, 'paso'));
    writeFiles(place.path('icons'), kitFiles(platformNamed('icons'), 'icons'));
    const { TZ } = process.env;
    onTestFinished(() => {
      if (TZ === undefined) delete process.env['TZ'];
      else process.env['TZ'] = TZ;
    });
    const packed = async (zone: string, hour: number): Promise<Buffer[]> => {
      process.env['TZ'] = zone;
      expect(new Date(0).getHours()).toBe(hour);
      for (const [theme, file] of [
        ['paso', 'x.zip'],
        ['icons', 'x.tar.gz'],
      ] as const)
        expect(await place.runUnder({ SOURCE_DATE_EPOCH: seconds }, 'pack', theme, '--out', file)).toMatchObject({ status: 0, stderr: '' });
      return ['x.zip', 'x.tar.gz'].map((name) => readFileSync(place.path(name)));
    };
    expect(await packed('Asia/Tokyo', 9)).toEqual(await packed('America/Lima', 19));
    const listed = (command: string, ...args: string[]) =>
      runTool(command, args, { cwd: place.folder, env: { ...process.env, TZ: 'UTC' } }).stdout;
    expect(listed('unzip', '-l', 'x.zip')).toMatch(zip);
    expect(listed('tar', '-tvzf', 'x.tar.gz')).toContain(tar);
  });

  it('marks folders as Windows knows them, and files as POSIX does', async () => {
    const { path } = await pack(new Workplace(), [file('img/a.css', Buffer.from('a'), 0o755)]);
    const bytes = readFileSync(path);
    const attributes: [name: string, attributes: number][] = [];
    for (let at = bytes.indexOf('PK\u0001\u0002'); at >= 0; at = bytes.indexOf('PK\u0001\u0002', at + 1))
      attributes.push([bytes.toString('utf8', at + 46, at + 46 + bytes.readUInt16LE(at + 28)), bytes.readUInt32LE(at + 38)]);
    expect(attributes).toEqual([
      ['paso/img/', ((0o040755 << 16) | 0x10) >>> 0],
      ['paso/img/a.css', (0o100755 << 16) >>> 0],
    ]);
  });

  it('takes no time that is none', async () => {
    const place = new Workplace();
    writeFiles(place.path('paso'), kitFiles(vereda, 'paso'));
    expect(await place.runUnder({ SOURCE_DATE_EPOCH: 'today' }, 'pack', 'paso')).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(/SOURCE_DATE_EPOCH is “today”/) as string,
    });
  });

  it('keeps links, and leaves out what the platform and the user do not want', async () => {
    const items: MemoryItem[] = [
      file('a.css', Buffer.from('a')),
      { kind: 'link', path: 'b.css', target: 'a.css' },
      file('.hidden', Buffer.from('')),
      file('draft/x.txt', Buffer.from('')),
    ];
    const packed = await pack(new Workplace(), items, { excluded: ['draft/'] });
    expect(packed.unpacked.get('paso/b.css')).toMatchObject({ kind: 'link', target: 'a.css' });
    expect(packed.plan.leftOut).toEqual([
      { path: '.hidden', reason: 'Vereda wants no such files in a package' },
      { path: 'draft/', reason: 'excluded by pionero.yaml' },
    ]);
    expect(packed.verified).toBe(true);
  });
});

it('is made in no format that the platform does not take', () => {
  const plan = (as?: string) => planPackage(new Theme(vereda, new MemoryTree([]), { id: 'paso' }, 'paso'), [], as);
  expect(plan().name).toBe('paso.zip');
  expect(['X.ZIP', 'x.tgz', 'x.txt'].map(formatOfName)).toEqual(['zip', 'tar.gz', undefined]);
  expect(() => plan('tar.gz')).toThrow('Vereda does not take tar.gz packages');
});

describe('a package that is read back', () => {
  const items = [
    file('a.css', Buffer.from('a'.repeat(3000))),
    file('large.txt', Buffer.alloc(6_000_000, 'hut ')),
    file('b.png', Buffer.from('x'), 0o755),
  ];

  it.each(['zip', 'tar.gz'])('is the same also with large files (%s)', async (as) => {
    const { verified, unpacked, path, bytes, sha256 } = await pack(new Workplace(), items, { as });
    expect([verified, unpacked.read('paso/large.txt').length, unpacked.get('paso/b.png')?.mode]).toEqual([true, 6_000_000, 0o755]);
    const written = readFileSync(path);
    expect([written.length, createHash('sha256').update(written).digest('hex')]).toEqual([bytes, sha256]);
  });

  it.each<[what: string, others: MemoryItem[]]>([
    ['another byte', [file('a.css', Buffer.from(`${'a'.repeat(2999)}b`)), ...items.slice(1)]],
    ['more bytes', [file('a.css', Buffer.from('a'.repeat(3001))), ...items.slice(1)]],
    ['one file less', items.slice(0, 2)],
    ['one file more', [...items, file('c.css', Buffer.from('c'))]],
    ['another mode', [...items.slice(0, 2), file('b.png', Buffer.from('x'))]],
    ['a link in place of a file', [...items.slice(0, 2), { kind: 'link', path: 'b.png', target: 'a.css' }]],
  ])('is not what was planned when it holds %s', async (_what, others) => {
    const place = new Workplace();
    const planned = await pack(place, items);
    const { path } = await pack(place, others);
    expect(await isPackageAsPlanned(path, planned.plan, planned)).toBe(false);
  });

  it('is not what was planned when the disk changed a byte of it', async () => {
    const { path, plan, checksums } = await pack(new Workplace(), items);
    const written = readFileSync(path);
    for (const at of [40, 3100, written.length - 30]) {
      const broken = Buffer.from(written);
      broken[at] = (broken[at] ?? 0) ^ 1;
      writeFileSync(path, broken);
      expect([at, await isPackageAsPlanned(path, plan, { checksums })]).toEqual([at, false]);
    }
  });

  it.skipIf(lacks('python'))('needs the records of 64 bits for a file, and a place, beyond 4 GiB', () => {
    // A file with holes: nothing but the records is on the disk.
    const path = new Workplace().path('wide.zip');
    const time = dosTime(0);
    const size = 5_000_000_000;
    const hut = Buffer.from('hut');
    const first = { name: Buffer.from('a.bin'), mode: 0o100644, method: 0, crc32: 0, packedSize: size, size, offset: 0, time };
    const head = localHeader(first);
    const second = { ...first, name: Buffer.from('b.txt'), crc32: crc32(hut), packedSize: 3, size: 3, offset: head.length + size };
    const directory = Buffer.concat([directoryHeader(first), directoryHeader(second)]);
    const tail = Buffer.concat([localHeader(second), hut, directory]);
    const handle = openSync(path, 'w');
    writeSync(handle, head, 0, head.length, 0);
    writeSync(handle, tail, 0, tail.length, second.offset);
    const at = second.offset + tail.length - directory.length;
    writeSync(handle, endRecords(2, at, directory.length), 0, undefined, second.offset + tail.length);
    closeSync(handle);
    const code =
      'import sys, zipfile; z = zipfile.ZipFile(sys.argv[1]); print([(i.filename, i.file_size) for i in z.infolist()], z.read("b.txt"))';
    expect(execFileSync('python3', ['-c', code, path], { encoding: 'utf8' }).trim()).toBe(`[('a.bin', ${size}), ('b.txt', 3)] b'hut'`);
  });

  it('needs the records of 64 bits for 70,000 entries', async () => {
    const many = Array.from({ length: 70_000 }, (_, i) => file(`f${i}`, Buffer.alloc(0)));
    const plan = planPackage(new Theme(vereda, new MemoryTree(many), { id: 'paso' }, 'paso'), []);
    const path = new Workplace().path('x.zip');
    const packed = await streamOutput(path, new Journal(`${path}.journal`), { write: async (sink) => writePackage(plan, sink) });
    expect(await isPackageAsPlanned(path, plan, packed)).toBe(true);
  });
});

describe('a package that workers have begun', () => {
  type Fate = 'works' | 'dies at once' | 'dies in the middle' | 'is slow' | 'is asked and does not begin';
  /** Workers that are none: they do what they are asked on this thread, as far as they get. */
  class FakeWorkers extends Workers {
    readonly #fate: Fate;
    #tasks = 0;

    constructor(fate: Fate, count = 1) {
      super({ count });
      this.#fate = fate;
    }

    override async run(_tasks: unknown, name: string, input: never): Promise<never> {
      const isDead = this.#fate === 'dies at once' || (this.#fate === 'dies in the middle' && this.#tasks++ > 1);
      await new Promise((resolve) => setTimeout(resolve, this.#fate === 'is slow' ? 20 : 0));
      if (name === 'zipHolds' && !isDead) return (await zipHolds(input)) as never;
      // What it began and did not do.
      if (isDead) Atomics.store((input as BlockToDeflate).begun ?? new Int32Array(1), (input as BlockToDeflate).block ?? 0, 1);
      if (isDead) throw new Error('out of memory');
      if (this.#fate === 'is asked and does not begin') return new Promise<never>(() => {});
      return deflateBlock(input) as never;
    }
  }
  const noise = Buffer.from(Array.from({ length: 400 }, (_, i) => (i * i * 7 + i) & 0xff));
  const contents = Array.from({ length: 150 }, (_, i) =>
    i % 9 === 4 ? noise : Buffer.from(`hut ${i} `.repeat(i === 70 ? 200_000 : 20 + i)),
  );
  const packed = async (tree: DiskTree, begun?: DeflatedAhead): Promise<PackedTheme> =>
    writePackage(planPackage(new Theme(vereda, tree, { id: 'paso' }, 'paso'), []), async () => {}, begun);

  it.each<Fate>(['works', 'dies at once', 'dies in the middle', 'is slow', 'is asked and does not begin'])(
    'is the same when a worker %s',
    async (fate) => {
      const place = new Workplace();
      writeFiles(place.path('paso'), Object.fromEntries(contents.map((content, i) => [`part-${i}.txt`, content])));
      const tree = new DiskTree(place.path('paso'));
      const begun = new DeflatedAhead(tree, tree.root, tree.entries, new FakeWorkers(fate));
      expect(await packed(tree, begun)).toEqual(await packed(tree));
    },
  );

  it.each<[Fate, count: number]>([
    ['works', 1],
    ['works', 3],
    ['dies at once', 1],
    ['is slow', 2],
  ])('is read back by all, each its part, when a worker %s (%i)', async (fate, count) => {
    const place = new Workplace();
    writeFiles(place.path('paso'), { 'a.txt': 'hut '.repeat(500), 'b.txt': 'door '.repeat(500) });
    const tree = new DiskTree(place.path('paso'));
    const plan = planPackage(new Theme(vereda, tree, { id: 'paso' }, 'paso'), []);
    const begun = new DeflatedAhead(tree, tree.root, tree.entries, new FakeWorkers(fate, count));
    const written: Buffer[] = [];
    const result = await writePackage(plan, async (part) => void written.push(part), begun);
    const archive = Buffer.concat(written);
    const path = place.path('x.zip');
    writeFileSync(path, archive);
    expect(await isPackageAsPlanned(path, plan, result, begun)).toBe(true);
    for (const name of ['a.txt', 'b.txt']) {
      const checksums = result.checksums.map((each, i) => (plan.held.entries[i]?.path === name ? 1 : each));
      expect([name, await isPackageAsPlanned(path, plan, { checksums }, begun)]).toEqual([name, false]);
      const at = archive.indexOf(`paso/${name}`) + `paso/${name}`.length;
      writeFileSync(path, Buffer.from(archive).fill((archive[at] ?? 0) ^ 4, at, at + 1));
      expect([name, await isPackageAsPlanned(path, plan, result, begun)]).toEqual([name, false]);
      writeFileSync(path, archive);
    }
  });

  it('tells of a file that was changed since it was listed', async () => {
    const place = new Workplace();
    writeFiles(place.path('paso'), { 'a.txt': 'hut', 'b.txt': 'hut' });
    const tree = new DiskTree(place.path('paso'));
    const begun = new DeflatedAhead(tree, tree.root, tree.entries, new FakeWorkers('works'));
    writeFiles(place.path('paso'), { 'b.txt': 'huts' });
    await expect(packed(tree, begun)).rejects.toMatchObject({ path: 'b.txt', message: 'it was changed in the meantime' });
  });

  it('is the same when it is written again, or its files are asked for in another order', async () => {
    const place = new Workplace();
    writeFiles(place.path('paso'), Object.fromEntries(contents.map((content, i) => [`part-${i}.txt`, content])));
    const tree = new DiskTree(place.path('paso'));
    const begun = new DeflatedAhead(tree, tree.root, tree.entries, new FakeWorkers('works'));
    const alone = await packed(tree);
    expect([await packed(tree, begun), await packed(tree, begun)]).toEqual([alone, alone]);
  });

  it('has no more than some blocks in memory, however large it is', async () => {
    const mebibyte = Buffer.alloc(1 << 20);
    const tree = new MemoryTree(Array.from({ length: 80 }, (_, i) => file(`f${i}`, mebibyte)));
    let asked = 0;
    class Counting extends FakeWorkers {
      override async run(_tasks: unknown, _name: string, input: never): Promise<never> {
        const { block, begun, files } = input as BlockToDeflate;
        asked++;
        Atomics.store(begun, block, 1);
        return deflateFiles(files, (path) => tree.read(path)) as never;
      }
    }
    const begun = new DeflatedAhead(tree, '/', tree.entries, new Counting('works'));
    for (const [block, { path }] of tree.entries.entries()) {
      const done = await begun.file(path);
      expect(done?.bytes.length).toBeLessThan(2000);
      expect(asked).toBe(Math.min(80, 64 + block));
    }
  });
});

describe('a list that is cut into parts', () => {
  const sums = (parts: readonly (readonly number[])[]): number[] => parts.map((part) => part.reduce((sum, item) => sum + item, 0));

  it('has them in its order, each item once, and none heavier than a fair share and one item', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 50 })), fc.integer({ min: 1, max: 9 }), (list, count) => {
        const parts = partsOf(list, count, (item) => item);
        expect(parts).toHaveLength(count);
        expect(parts.flat()).toEqual(list);
        const whole = list.reduce((sum, item) => sum + item, 0);
        expect(Math.max(...sums(parts))).toBeLessThanOrEqual(whole / count + Math.max(0, ...list));
      }),
    );
  });
});

describe('an unsafe archive', () => {
  const read = async (bytes: Buffer): Promise<unknown> => {
    const path = new Workplace().path('x.zip');
    writeFileSync(path, bytes);
    return readArchive(path, 'x.zip');
  };

  it.each(['../x', 'a/../../x', '/etc/x', 'C:/x', 'a\\..\\x', 'a//x', './x', 'a\0b'])('with the path %j is refused', async (name) => {
    await expect(read(zipOf([{ name, content: 'x' }]))).rejects.toThrow(/unsafe path/);
  });

  it.each(['../../etc', '/etc/x'])('with a link to %s is refused', async (target) => {
    await expect(read(zipOf([{ name: 'link', mode: 0o120777, content: target }]))).rejects.toThrow(/points to/);
  });

  it('that is none is refused', async () => {
    await expect(read(Buffer.from('not a zip'))).rejects.toThrow(/cannot be unpacked/);
  });

  it('that was damaged anywhere is refused or gives the same files', async () => {
    const good = zipOf([
      { name: 'a/b.css', content: 'hut '.repeat(50) },
      { name: 'a/c', content: 'a', isStored: true },
    ]);
    await fc.assert(
      fc.asyncProperty(fc.nat(good.length - 1), fc.integer({ min: 1, max: 255 }), async (at, change) => {
        const bytes = Buffer.from(good);
        bytes[at] = (bytes[at] ?? 0) ^ change;
        const tree = await read(bytes).then(
          (archive) => (archive as UnpackedArchive).tree,
          (error: unknown) => {
            expect(error).toBeInstanceOf(RefusedError);
            return undefined;
          },
        );
        const isThere = tree?.get('a/b.css')?.kind === 'file';
        expect(isThere ? tree.read('a/b.css').toString() : 'hut '.repeat(50)).toBe('hut '.repeat(50));
      }),
      { numRuns: 300 },
    );
  });
});
