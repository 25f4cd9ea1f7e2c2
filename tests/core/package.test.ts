import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import yazl from 'yazl';
import { buffer } from 'node:stream/consumers';
import { RefusedError } from '../../src/core/errors.ts';
import { MemoryTree, type MemoryItem } from '../../src/core/files/memory-tree.ts';
import { packTheme } from '../../src/core/package/pack-theme.ts';
import { readZip } from '../../src/core/package/zip-read.ts';
import { Theme } from '../../src/core/theme/theme.ts';
import { platformNamed } from '../support/trees.ts';

const vereda = platformNamed('vereda');
const pack = (items: Iterable<MemoryItem>, excluded: string[] = []) =>
  packTheme(new Theme(vereda, new MemoryTree(items), { id: 'paso' }, 'paso'), excluded);
const file = (path: string, content: Buffer, mode = 0o644): MemoryItem => ({
  kind: 'file',
  path,
  content: { bytes: content },
  size: content.length,
  mode,
});

describe('a package', () => {
  it('unpacks to the same tree, whatever the order of its files', async () => {
    const part = fc.stringMatching(/^[a-zé][a-z0-9 é_-]{0,6}$/);
    const path = fc.array(part, { minLength: 1, maxLength: 3 }).map((parts) => `${parts.join('/')}.x`);
    const tree = fc.dictionary(path, fc.tuple(fc.uint8Array({ maxLength: 60 }), fc.constantFrom(0o644, 0o755)), { maxKeys: 8 });
    await fc.assert(
      fc.asyncProperty(tree, async (files) => {
        const items = Object.entries(files).map(([name, [content, mode]]) => file(name, Buffer.from(content), mode));
        const packed = await pack(items);
        const again = await pack(items.toReversed());
        expect(packed.verified).toBe(true);
        expect(again.sha256).toBe(packed.sha256);
        const unpacked = await readZip(packed.bytes, 'x.zip');
        for (const entry of unpacked.entries.filter((each) => each.kind === 'file')) {
          const [content, mode] = files[entry.path.slice('paso/'.length)] ?? [];
          expect([unpacked.read(entry.path), entry.mode]).toEqual([Buffer.from(content ?? []), mode]);
        }
      }),
      { numRuns: 40 },
    );
  });

  it('keeps links, and leaves out what the platform and the user do not want', async () => {
    const items: MemoryItem[] = [
      file('a.css', Buffer.from('a')),
      { kind: 'link', path: 'b.css', target: 'a.css' },
      file('.hidden', Buffer.from('')),
      file('draft/x.txt', Buffer.from('')),
    ];
    const packed = await pack(items, ['draft/']);
    expect((await readZip(packed.bytes, 'x')).get('paso/b.css')).toMatchObject({ kind: 'link', target: 'a.css' });
    expect(packed.leftOut).toEqual([
      { path: '.hidden', reason: 'Vereda wants no such files in a package' },
      { path: 'draft/', reason: 'excluded by pionero.yaml' },
    ]);
    expect(packed.verified).toBe(true);
  });
});

/** A zip whose entry has exactly this name: the writer refuses such names, so it is put in afterwards. */
async function zipWith(name: string, mode = 0o100644, content = 'x'): Promise<Buffer> {
  const zip = new yazl.ZipFile();
  const harmless = 'n'.repeat(name.length);
  zip.addBuffer(Buffer.from(content), harmless, { mode });
  zip.end();
  const bytes = await buffer(zip.outputStream);
  return Buffer.from(bytes.toString('latin1').replaceAll(harmless, name), 'latin1');
}

describe('an unsafe archive', () => {
  it.each(['../x', 'a/../../x', '/etc/x', 'C:/x', 'a\\..\\x', 'a//x', './x', 'a\0b'])('with the path %j is refused', async (name) => {
    await expect(readZip(await zipWith(name), 'x.zip')).rejects.toBeInstanceOf(RefusedError);
  });

  it.each(['../../etc', '/etc/x'])('with a link to %s is refused', async (target) => {
    await expect(readZip(await zipWith('link', 0o120777, target), 'x.zip')).rejects.toThrow(/outside|points to/);
  });

  it('that is none is refused', async () => {
    await expect(readZip(Buffer.from('not a zip'), 'x.zip')).rejects.toThrow(/cannot be unpacked/);
  });
});
