import { createHash } from 'node:crypto';
import { RefusedError } from '../errors.ts';
import type { ImageContract } from '../platform/schema.ts';
import { pictureLibrary } from '../shots/pictures.ts';

/** Width and height in pixels. */
export interface PictureSize {
  readonly width: number;
  readonly height: number;
}

/** Which part of a picture stays when it has another shape than is wanted. */
export type Focus = 'centre' | 'top' | 'bottom' | 'left' | 'right' | 'subject';

/** By this, and a hash of what it shows, a picture of ours is known again (Exif 2.32, 4.6.5: Software). */
const MADE_BY = 'pionero cover';
const MARK = new RegExp(`${MADE_BY} ([0-9a-f]{16})`);

const USUAL_WIDTH = 1200;
const ICON_WIDTH = 64;

/** The size that a platform asks for; where it asks for a shape or a least size alone, a good one of that kind. */
export function wantedSize(image: ImageContract): PictureSize {
  const { width, height, 'min-width': least = 0, 'min-height': leastHigh = 0, ratio } = image;
  const isIcon = image.formats.every((each) => each === 'ico');
  const [across = 4, down = 3] = (ratio ?? (isIcon ? '1:1' : '4:3')).split(':').map(Number);
  if (isIcon && width === undefined && height === undefined && least === 0) return { width: ICON_WIDTH, height: ICON_WIDTH };
  if (width !== undefined) return { width, height: height ?? Math.round((width * down) / across) };
  if (height !== undefined) return { width: Math.round((height * across) / down), height };
  // Of a small one that may be larger, four times as much is sharp on every screen.
  const wide = least > 0 ? Math.min(USUAL_WIDTH, 4 * least) : USUAL_WIDTH;
  const fitting = Math.max(wide, Math.ceil((leastHigh * across) / down));
  return { width: fitting, height: Math.round((fitting * down) / across) };
}

/**
 * Makes a picture of the wanted size and format, within its greatest size in bytes. The same picture has the same bytes.
 * @throws RefusedError when it is none that can be read, or does not get small enough
 */
export async function makePicture(source: Buffer, image: ImageContract, size: PictureSize, focus: Focus): Promise<Buffer> {
  const library = await pictureLibrary();
  const format = image.formats.find((each) => each !== 'svg') ?? 'png';
  const limit = image['max-bytes'] ?? Infinity;
  const fitted = await library(source, { density: 144, limitInputPixels: 100_000_000 })
    .resize({ ...size, fit: 'cover', position: POSITIONS[focus] })
    .png()
    .toBuffer()
    .catch((cause: unknown) => {
      throw new RefusedError({ what: 'this is not a picture that can be read', why: cause instanceof Error ? cause.message : '', cause });
    });
  const marked = (hash: string) => () => library(fitted).withExif({ IFD0: { Software: `${MADE_BY} ${hash}` } });
  for (const step of STEPS) {
    // What a format shows in the end is known when it was made; the mark changes nothing of it.
    const shown = await hashOfPixels(await encoded(marked('0'.repeat(16)), format, step, size));
    const made = await encoded(marked(shown), format, step, size);
    if (made.length <= limit) return made;
  }
  throw new RefusedError({ what: `the ${image.role} does not get smaller than ${limit} bytes`, hint: 'take a picture with fewer details' });
}

/** Whether a picture was made by us and shows what we have drawn: editors keep such marks in what they have changed. */
export async function isOurs(picture: Buffer): Promise<boolean> {
  // An icon holds pictures; ours holds one.
  if (isIcon(picture)) return isOurs(picture.subarray(ICON_HEAD_BYTES));
  if (picture.toString('latin1', 0, 400).includes('<svg')) {
    const text = picture.toString('utf8');
    return text === markedSvg(text.replace(/<!--[^>]*-->\n$/, ''));
  }
  const library = await pictureLibrary();
  const { exif } = await library(picture)
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
  // An icon is the picture in it.
  const shown = isIcon(picture) ? picture.subarray(ICON_HEAD_BYTES) : picture;
  const library = await pictureLibrary();
  const pixels = await library(shown).ensureAlpha().raw().toBuffer();
  return createHash('sha256').update(pixels).digest('hex').slice(0, 16);
}

const ICON_HEAD_BYTES = 22;

function isIcon(picture: Buffer): boolean {
  return picture.subarray(0, 4).equals(Buffer.from([0, 0, 1, 0]));
}

const POSITIONS = { centre: 'centre', top: 'top', bottom: 'bottom', left: 'left', right: 'right', subject: 'attention' } as const;

/** From the best on: quality, and how many colours where a format has a palette. */
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
        await make()
          .resize({ width: Math.min(256, size.width), height: Math.min(256, size.height), fit: 'cover' })
          .png()
          .toBuffer(),
        size,
      );
    default:
      return make()
        .png(colours === undefined ? { compressionLevel: 9 } : { palette: true, colours, compressionLevel: 9 })
        .toBuffer();
  }
}

/** An icon with one picture in it: a head of 6 bytes, an entry of 16, the PNG as it is. */
function iconOf(png: Buffer, { width, height }: PictureSize): Buffer {
  const head = Buffer.alloc(ICON_HEAD_BYTES);
  head.writeUInt16LE(1, 2);
  head.writeUInt16LE(1, 4);
  head.writeUInt8(width >= 256 ? 0 : width, 6);
  head.writeUInt8(height >= 256 ? 0 : height, 7);
  head.writeUInt16LE(1, 10);
  head.writeUInt16LE(32, 12);
  head.writeUInt32LE(png.length, 14);
  head.writeUInt32LE(ICON_HEAD_BYTES, 18);
  return Buffer.concat([head, png]);
}
