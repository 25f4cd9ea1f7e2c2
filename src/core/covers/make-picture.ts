import { createHash } from 'node:crypto';
import { RefusedError } from '../errors.ts';
import type { ImageContract } from '../platform/schema.ts';
import type { PictureSize } from './wanted-size.ts';
import { pictureLibrary } from '../shots/pictures.ts';

/** Which part of a picture stays when it has another shape than is wanted. */
export type Focus = 'centre' | 'top' | 'bottom' | 'left' | 'right' | 'subject';

/** By this, and a hash of what it shows, we recognize our own picture (Exif 2.32, 4.6.5: Software). */
const MADE_BY = 'pionero cover';
const MARK = new RegExp(`${MADE_BY} ([0-9a-f]{16})`);

/**
 * Makes a picture of the wanted size and format, within its greatest size in bytes. The same picture has the same bytes.
 * @param called what the source is called
 * @throws RefusedError when it is not a readable picture, or does not get small enough
 */
export async function makePicture(source: Buffer, called: string, image: ImageContract, size: PictureSize, focus: Focus): Promise<Buffer> {
  const library = await pictureLibrary();
  const format = image.formats.find((each) => each !== 'svg') ?? 'png';
  const limit = image['max-bytes'] ?? Infinity;
  const fitted = await library(source, READING)
    .autoOrient()
    .resize({ ...size, fit: 'cover', position: POSITIONS[focus] })
    .png()
    .toBuffer()
    .catch((cause: unknown) => {
      throw new RefusedError({
        what: `${called} is not a picture that can be read`,
        why: cause instanceof Error ? cause.message : '',
        cause,
      });
    });
  const marked = (hash: string) => () => library(fitted).withExif({ IFD0: { Software: `${MADE_BY} ${hash}` } });
  for (const step of STEPS) {
    // The pixels of a format are known only when it was made; the mark changes nothing of it.
    const unmarked = await encoded(marked('0'.repeat(16)), format, step, size);
    if (unmarked.length > limit) continue;
    const made = await encoded(marked(await hashOfPixels(unmarked)), format, step, size);
    if (made.length <= limit) return made;
  }
  throw new RefusedError({ what: `the ${image.role} does not get smaller than ${limit} bytes`, hint: 'take a picture with fewer details' });
}

/** How much larger a picture must become to fill a size: 1 or less when it is large enough, or a drawing. */
export async function stretchOf(source: Buffer, { width, height }: PictureSize): Promise<number> {
  const library = await pictureLibrary();
  const { format, autoOrient } = await library(source, READING).metadata();
  return format === 'svg' ? 1 : Math.max(width / autoOrient.width, height / autoOrient.height);
}

const READING = { density: 144, limitInputPixels: 100_000_000 };

/** Whether a picture was made by us and shows what we have drawn: editors keep such marks in what they have changed. */
export async function isOurs(picture: Buffer): Promise<boolean> {
  if (picture.toString('latin1', 0, 400).includes('<svg')) {
    const text = picture.toString('utf8');
    return text === markedSvg(text.replace(/<!--[^>]*-->\n$/, ''));
  }
  const library = await pictureLibrary();
  const { exif } = await library(picturesIn(picture)[0])
    .metadata()
    .catch(() => ({ exif: undefined }));
  const hash = MARK.exec(exif?.toString('latin1') ?? '')?.[1];
  return hash !== undefined && hash === (await hashOfPixels(picture));
}

/** A drawing with the mark by which it is known again. */
export function markedSvg(svg: string): string {
  return `${svg}<!-- ${MADE_BY} ${createHash('sha256').update(svg).digest('hex').slice(0, 16)} -->\n`;
}

async function hashOfPixels(picture: Buffer): Promise<string> {
  const library = await pictureLibrary();
  const hash = createHash('sha256');
  for (const each of picturesIn(picture)) hash.update(await library(each).ensureAlpha().raw().toBuffer());
  return hash.digest('hex').slice(0, 16);
}

const ICON_HEAD_BYTES = 6;
const ICON_ENTRY_BYTES = 16;

/** Those that an icon holds; any other picture is one. */
function picturesIn(picture: Buffer): readonly [Buffer, ...Buffer[]] {
  const isIcon = picture.length > ICON_HEAD_BYTES && picture.readUInt32LE(0) === 1 << 16;
  const entries = Array.from({ length: isIcon ? picture.readUInt16LE(4) : 0 }, (_, i) => ICON_HEAD_BYTES + ICON_ENTRY_BYTES * i);
  const [first, ...others] = entries
    .filter((at) => at + ICON_ENTRY_BYTES <= picture.length)
    .map((at) => {
      const start = picture.readUInt32LE(at + 12);
      return picture.subarray(start, start + picture.readUInt32LE(at + 8));
    });
  return first === undefined ? [picture] : [first, ...others];
}

const POSITIONS = { centre: 'centre', top: 'top', bottom: 'bottom', left: 'left', right: 'right', subject: 'attention' } as const;

/** From the best on: quality, and how many colors where a format has a palette. */
const STEPS = [
  { quality: 88, colours: undefined },
  { quality: 75, colours: 256 },
  { quality: 60, colours: 64 },
  { quality: 40, colours: 16 },
] as const;

type Pipeline = ReturnType<Awaited<ReturnType<typeof pictureLibrary>>>;

async function encoded(
  make: () => Pipeline,
  format: string,
  { quality, colours }: (typeof STEPS)[number],
  size: PictureSize,
): Promise<Buffer> {
  switch (format) {
    case 'jpg':
      return make().flatten({ background: '#ffffff' }).jpeg({ quality, mozjpeg: true }).toBuffer();
    case 'webp':
      return make().webp({ quality }).toBuffer();
    case 'gif':
      return make()
        .gif({ colours: colours ?? 256 })
        .toBuffer();
    case 'ico':
      return iconOf(
        await Promise.all(
          iconSizes(size).map(async (each) => ({
            ...each,
            png: await make()
              .resize({ ...each, fit: 'cover' })
              .png()
              .toBuffer(),
          })),
        ),
      );
    default:
      return make()
        .png(colours === undefined ? { compressionLevel: 9 } : { palette: true, colours, compressionLevel: 9 })
        .toBuffer();
  }
}

/** The largest one that an icon can say of a picture, in pixels: its numbers are bytes, and 0 stands for 256. */
const LARGEST_IN_ICON = 256;

/** Browsers and desktops take the one of the size that they show: those of tabs, of bars, of lists. */
const SMALL_ICONS = [48, 32, 16];

function iconSizes({ width, height }: PictureSize): PictureSize[] {
  const largest = { width: Math.min(LARGEST_IN_ICON, width), height: Math.min(LARGEST_IN_ICON, height) };
  const smaller = width === height ? SMALL_ICONS.filter((each) => each < width) : [];
  return [largest, ...smaller.map((each) => ({ width: each, height: each }))];
}

/** An icon with pictures in it: a head of 6 bytes, an entry of 16 for each, the PNGs as they are. */
function iconOf(pictures: readonly (PictureSize & { readonly png: Buffer })[]): Buffer {
  const head = Buffer.alloc(ICON_HEAD_BYTES + ICON_ENTRY_BYTES * pictures.length);
  head.writeUInt16LE(1, 2);
  head.writeUInt16LE(pictures.length, 4);
  let start = head.length;
  for (const [i, { png, width, height }] of pictures.entries()) {
    const at = ICON_HEAD_BYTES + ICON_ENTRY_BYTES * i;
    head.writeUInt8(width % LARGEST_IN_ICON, at);
    head.writeUInt8(height % LARGEST_IN_ICON, at + 1);
    head.writeUInt16LE(1, at + 4);
    head.writeUInt16LE(32, at + 6);
    head.writeUInt32LE(png.length, at + 8);
    head.writeUInt32LE(start, at + 12);
    start += png.length;
  }
  return Buffer.concat([head, ...pictures.map(({ png }) => png)]);
}
