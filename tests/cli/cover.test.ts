import { cpSync, existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { imageSize } from 'image-size';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { drawCover } from '../../src/core/covers/draw-cover.ts';
import { wantedSize } from '../../src/core/covers/wanted-size.ts';
import { contrast, paletteOf } from '../../src/core/covers/palette.ts';
import type { ImageContract } from '../../src/core/platform/schema.ts';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import { lacks } from '../support/needs.ts';
import { MemoryTree } from '../../src/core/files/memory-tree.ts';
import { Theme } from '../../src/core/theme/theme.ts';
import { Workplace } from '../support/program.ts';
import { platformNamed, snapshot, writeFiles } from '../support/trees.ts';

const SHELF = join(import.meta.dirname, '../../demo/shelf');
const isSkipped = lacks('chromium');

const plain = (width: number, height: number) => sharp({ create: { width, height, channels: 3, background: '#204060' } });

/** A picture of one colour with a mark in its upper left corner. */
const mockUp = async (width: number, height: number): Promise<Buffer> =>
  plain(width, height)
    .composite([{ input: { create: { width: 40, height: 40, channels: 3, background: '#ff0000' } }, left: 0, top: 0 }])
    .png()
    .toBuffer();

async function cornerOf(picture: Buffer): Promise<string> {
  const { data } = await sharp(picture).extract({ left: 4, top: 4, width: 1, height: 1 }).raw().toBuffer({ resolveWithObject: true });
  return [...data.subarray(0, 3)].join(' ');
}

describe('the pictures that a platform asks for', () => {
  it.each(
    shippedPlatforms().flatMap(({ contract: { name, vendor, images } }) =>
      images.map((image) => [name, image.role, image, vendor !== undefined] as const),
    ),
  )('are made by cover, in size and format: %s, %s', async (platform, role, image, hasVendor) => {
    const place = new Workplace();
    await place.run('new', 'lumbre', '--platform', platform, '--yes', ...(hasVendor ? ['--vendor', 'Huts'] : []));
    const folder = existsSync(place.path('lumbre')) ? 'lumbre' : 'Huts/lumbre';
    const outcome = await place.run('cover', folder, '--role', role, '--yes');
    expect([outcome.status, outcome.stderr]).toEqual([0, '']);
    const file = place.path(folder, image.path);
    const { width, height, type } = imageSize(readFileSync(file));
    expect([width, height, type]).toEqual([wantedSize(image).width, wantedSize(image).height, image.formats[0]]);
    const checked = await place.run('check', folder);
    expect(checked.stdout).not.toMatch(/image\//);
    // Made again, it is the same; what is ours may be replaced.
    expect((await place.run('cover', folder, '--role', role, '--yes')).stdout).toContain('nothing to change');
  });

  it.each<[Partial<ImageContract>, number, number]>([
    [{ width: 600, height: 450 }, 600, 450],
    [{ width: 600, ratio: '3:2' }, 600, 400],
    [{ height: 300, ratio: '2:1' }, 600, 300],
    [{ ratio: '1:1', 'min-width': 64 }, 256, 256],
    [{ ratio: '16:9' }, 1200, 675],
    [{ 'min-width': 200, 'min-height': 1000 }, 1334, 1001],
    [{ formats: ['ico'] }, 64, 64],
    [{}, 1200, 900],
  ])('have a good size where only a part of it is asked for: %j', (asked, width, height) => {
    expect(wantedSize({ role: 'cover', path: 'x', formats: ['png'], required: 'no', recommended: false, ...asked })).toEqual({
      width,
      height,
    });
  });

  it('are within their greatest size in bytes, or not made', async () => {
    const place = new Workplace();
    const noise = await sharp({
      create: { width: 100, height: 75, channels: 3, background: '#888', noise: { type: 'gaussian', mean: 128, sigma: 90 } },
    })
      .png()
      .toBuffer();
    await place.run('new', 'paso', '--platform', 'vereda', '--yes');
    writeFiles(place.folder, {
      'small.platform.yaml':
        'pionero: platform/1\nextend: vereda\nname: small\ntitle: Small\nimages: [{ role: cover, width: 100, height: 75, max-bytes: 6700 }]\n',
      'tiny.platform.yaml':
        'pionero: platform/1\nextend: vereda\nname: tiny\ntitle: Tiny\nimages: [{ role: cover, width: 100, height: 75, max-bytes: 1000 }]\n',
      'noise.png': noise,
    });
    expect(noise.length).toBeGreaterThan(11_000);
    const made = await place.run('cover', 'paso', '--from', 'noise.png', '--platform', 'small.platform.yaml', '--force', '--yes');
    expect([made.status, readFileSync(place.path('paso/cover.png')).length <= 6700]).toEqual([0, true]);
    const before = snapshot(place.path('paso'));
    const refused = await place.run('cover', 'paso', '--from', 'noise.png', '--platform', 'tiny.platform.yaml', '--force', '--yes');
    expect([refused.status, refused.stderr]).toEqual([1, expect.stringContaining('does not get smaller than 1000 bytes')]);
    expect(snapshot(place.path('paso'))).toEqual(before);
  });
});

it('an icon holds the sizes that browsers ask for, the largest first', async () => {
  const place = new Workplace();
  await place.run('new', 'lumbre', '--platform', 'cordada', '--yes');
  await place.run('cover', 'lumbre', '--role', 'icon', '--yes');
  const icon = readFileSync(place.path('lumbre/icon.ico'));
  const sizes = imageSize(icon).images?.map(({ width, height }) => [width, height]);
  expect(sizes).toEqual([64, 48, 32, 16].map((each) => [each, each]));
  const small = icon.subarray(icon.readUInt32LE(6 + 3 * 16 + 12));
  expect(await sharp(small).metadata()).toMatchObject({ format: 'png', width: 16, height: 16 });
  // Somebody has changed the smallest one.
  writeFiles(place.path('lumbre'), { 'icon.ico': Buffer.concat([icon.subarray(0, -small.length), await plain(16, 16).png().toBuffer()]) });
  expect(await place.run('cover', 'lumbre', '--role', 'icon', '--yes')).toMatchObject({ status: 1 });
});

describe('a picture that was made by hand', () => {
  it('stays unless that is overruled, and comes back by undo; one of the kit, or of ours, is replaced', async () => {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', 'vereda', '--yes');
    expect(await place.run('cover', 'paso', '--yes')).toMatchObject({ status: 0 });
    // An editor keeps the mark, and changes what is shown.
    const edited = await sharp(readFileSync(place.path('paso/cover.png')))
      .composite([{ input: await mockUp(60, 60), left: 9, top: 9 }])
      .withMetadata()
      .png()
      .toBuffer();
    const drawn = readFileSync(place.path('paso/cover.png'));
    writeFiles(place.path('paso'), { 'cover.png': edited });
    expect([edited.includes('pionero cover'), (await place.run('cover', 'paso', '--yes')).status]).toEqual([true, 1]);
    writeFiles(place.path('paso'), { 'cover.png': drawn });
    const own = await mockUp(1200, 900);
    writeFiles(place.path('paso'), { 'cover.png': own });
    expect(await place.run('cover', 'paso', '--yes')).toMatchObject({
      status: 1,
      stderr: expect.stringMatching(/cover\.png was made by hand/) as string,
    });
    expect(readFileSync(place.path('paso/cover.png')).equals(own)).toBe(true);
    expect(await place.run('cover', 'paso', '--force', '--yes')).toMatchObject({ status: 0 });
    expect(readFileSync(place.path('paso/cover.png')).equals(own)).toBe(false);
    expect(place.startIn('paso', 'undo', '--yes')).toMatchObject({ status: 0 });
    expect(readFileSync(place.path('paso/cover.png')).equals(own)).toBe(true);
  });

  it.each<[string, number, number, string[], string]>([
    ['of the same shape is scaled', 2400, 1800, [], '255 0 0'],
    ['that is too wide keeps its middle', 4000, 900, [], '32 64 96'],
    ['that is too wide keeps what is wanted', 4000, 900, ['--focus', 'left'], '255 0 0'],
    ['that is too high keeps its top where that is wanted', 1200, 4000, ['--focus', 'top'], '255 0 0'],
  ])('%s', async (_what, width, height, more, corner) => {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', 'vereda', '--yes');
    writeFiles(place.folder, { 'mock-up.png': await mockUp(width, height) });
    expect(await place.run('cover', 'paso', '--from', 'mock-up.png', ...more, '--yes')).toMatchObject({ status: 0 });
    const made = readFileSync(place.path('paso/cover.png'));
    expect([imageSize(made).width, imageSize(made).height, await cornerOf(made)]).toEqual([1200, 900, corner]);
  });

  it('stands as it is looked at, however the camera was held', async () => {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', 'vereda', '--yes');
    const held = await sharp(await mockUp(900, 1200))
      .withMetadata({ orientation: 6 })
      .jpeg()
      .toBuffer();
    writeFiles(place.folder, { 'photo.jpg': held });
    expect(await place.run('cover', 'paso', '--from', 'photo.jpg', '--yes')).toMatchObject({ status: 0, stderr: '' });
    const turned = await sharp(readFileSync(place.path('paso/cover.png')))
      .flop()
      .png()
      .toBuffer();
    expect(await cornerOf(turned)).toMatch(/^2[45]\d \d \d$/);
  });

  it('is told of when it is small, and named when it is none', async () => {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', 'vereda', '--yes');
    const svg = '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="30"><rect width="40" height="30"/></svg>';
    writeFiles(place.folder, { 'small.png': await mockUp(900, 700), 'drawing.svg': svg, 'none.png': 'no picture' });
    const run = async (file: string) => place.run('cover', 'paso', '--from', file, '--yes');
    expect((await run('small.png')).stdout).toMatch(/^▲ small\.png is small for the cover, which is 1200 × 900: it is blurred there\.\n/);
    expect((await run('drawing.svg')).stdout).not.toContain('▲');
    expect((await run('none.png')).stderr).toMatch(/^✗ none\.png is not a picture that can be read\.\n/);
  });

  it.skipIf(isSkipped)(
    'of a page shows the page',
    async () => {
      const place = new Workplace();
      cpSync(join(SHELF, 'albar'), place.path('albar'), { recursive: true });
      writeFiles(place.path('albar'), { 'pages/front.html': '<body style="margin:0;background:#0a141e"></body>' });
      expect(await place.run('cover', 'albar', '--page', 'front', '--force', '--yes')).toMatchObject({ status: 0 });
      expect(await cornerOf(readFileSync(place.path('albar/cover.png')))).toBe('10 20 30');
      expect(await place.run('cover', 'albar', '--page', 'frond', '--yes')).toMatchObject({
        status: 2,
        stderr: expect.stringMatching(/no page “frond”[^]*front/) as string,
      });
    },
    60_000,
  );

  it.each<[string, string[], RegExp, number]>([
    ['there is none', ['--from', 'nowhere.png'], /there is no picture nowhere\.png/, 2],
    ['it is none', ['--from', 'paso/main.html', '--force'], /not a picture that can be read/, 1],
    ['two are named', ['--from', 'a.png', '--page', 'front'], /leave one of them out/, 2],
    ['the platform does not know it', ['--role', 'covr'], /has no picture “covr”[^]*did you mean “cover”/, 2],
  ])('is not made when %s', async (_what, argv, says, status) => {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', 'vereda', '--yes');
    const outcome = await place.run('cover', 'paso', ...argv, '--yes');
    expect([outcome.status, outcome.stderr]).toEqual([status, expect.stringMatching(says)]);
  });
});

describe('a drawn cover', () => {
  it.each<[string, string, string, string, string]>([
    [
      'what the page declares, by way of properties',
      ':root { --paper: #fafafa; --ink: rgb(10, 20, 30) } body { background: var(--paper); color: var(--ink) } a { color: #c04000 }',
      '#fafafa',
      '#0a141e',
      '#c04000',
    ],
    ['a dark page', 'body { background-color: #101820; color: #dde4e8 } a { color: #f80 }', '#101820', '#dde4e8', '#ff8800'],
    [
      'a text that nobody could read is not taken',
      'body { background: #fff; color: #eee } a { color: #222 }',
      '#ffffff',
      '#222222',
      '#222222',
    ],
    ['nothing', '', '#f6f5f1', '#111111', '#111111'],
  ])('takes the theme’s colours: %s', (_what, css, ground, ink, accent) => {
    const header = '/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\n---*/\n';
    const theme = new Theme(platformNamed('vereda'), MemoryTree.of({ 'sheet.css': header + css }), { id: 'paso' }, 'paso');
    const palette = paletteOf({ themes: [theme], commons: new Set() });
    expect([palette.ground, palette.ink, palette.accent]).toEqual([ground, ink, accent]);
    expect(contrast(palette.ink, palette.ground)).toBeGreaterThanOrEqual(4.5);
  });

  it.each([
    'Albar',
    'Albar & <Noche>',
    'The Theme of the Three Huts above the Tree Line and Everything',
    'Schneeschuhwanderwegmarkierungsverordnung',
  ])('holds its title within its room: %s', (title) => {
    for (const [width, height] of [
      [1200, 900],
      [256, 256],
      [600, 1200],
    ] as const) {
      const svg = drawCover(
        { title, summary: 'x '.repeat(200) },
        { ground: '#ffffff', ink: '#000000', accent: '#ff0000', colours: ['#ff0000'] },
        'serif',
        width,
        height,
      );
      const words = [...svg.matchAll(/<text x="([\d.]+)" y="([\d.]+)"[^>]*font-size="([\d.]+)"[^>]*>([^<]*)</g)].map(
        ([, x, y, size, text = '']) => ({ x: Number(x), y: Number(y), size: Number(size), text: text.replaceAll(/&\w+;/g, '&') }),
      );
      for (const { x, y, size, text } of words)
        expect([text, y <= height, x + text.length * size * 0.5 <= width]).toEqual([text, true, true]);
      expect(svg).not.toMatch(/<Noche>/);
    }
  });
});
