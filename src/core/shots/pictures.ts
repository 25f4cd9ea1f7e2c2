import { UsageError } from '../errors.ts';
import type { Box } from './stumble.ts';

/** How two pictures differ. */
export interface PictureDifference {
  /** Pixels that differ, of all. */
  readonly differing: number;
  readonly all: number;
  /** A PNG that shows where. */
  readonly picture: Buffer;
}

type Pictures = (typeof import('sharp'))['default'];

/** The library for pictures, which is loaded when it is needed. @throws UsageError when it is not installed */
export async function pictureLibrary(): Promise<Pictures> {
  const { default: library } = await import('sharp').catch((cause: unknown) => {
    throw new UsageError({ what: 'the library for pictures is not installed', hint: 'npm install -g sharp', cause });
  });
  return library;
}

/** Compares two PNGs, pixel by pixel; edges that are only smoothed in another way do not count. Undefined when they are the same. */
export async function comparePictures(before: Buffer, after: Buffer): Promise<PictureDifference | undefined> {
  if (before.equals(after)) return undefined;
  const library = await pictureLibrary();
  const { default: pixelmatch } = await import('pixelmatch');
  const [old, now] = await Promise.all([before, after].map(async (png) => library(png).metadata()));
  const width = Math.max(old?.width ?? 0, now?.width ?? 0);
  const height = Math.max(old?.height ?? 0, now?.height ?? 0);
  const raw = async (png: Buffer, own: { width?: number; height?: number } | undefined): Promise<Buffer> =>
    library(png)
      .extend({ right: width - (own?.width ?? 0), bottom: height - (own?.height ?? 0), background: { r: 255, g: 0, b: 255, alpha: 1 } })
      .ensureAlpha()
      .raw()
      .toBuffer();
  const drawn = Buffer.alloc(width * height * 4);
  const differing = pixelmatch(await raw(before, old), await raw(after, now), drawn, width, height, { threshold: 0.1 });
  if (differing === 0) return undefined;
  const picture = await library(drawn, { raw: { width, height, channels: 4 } })
    .png()
    .toBuffer();
  return { differing, all: width * height, picture };
}

/** A picture with numbered boxes on it. */
export async function withBoxes(png: Buffer, boxes: readonly (Box & { readonly number: number })[]): Promise<Buffer> {
  const library = await pictureLibrary();
  const { width, height } = await library(png).metadata();
  const drawn = boxes.map(({ x, y, width: wide, height: high, number }) => {
    const left = Math.max(1, Math.min(x, width - 3));
    const top = Math.max(1, Math.min(y, height - 3));
    const shown = Math.max(2, Math.min(wide, width - left - 1));
    const label = String(number);
    const tag = 9 * label.length + 8;
    const tagLeft = Math.min(left, width - tag);
    return (
      `<rect x="${left}" y="${top}" width="${shown}" height="${Math.max(2, high)}" fill="none" stroke="#c2185b" stroke-width="2"/>` +
      `<rect x="${tagLeft}" y="${Math.max(0, top - 18)}" width="${tag}" height="18" fill="#c2185b"/>` +
      `<text x="${tagLeft + 4}" y="${Math.max(0, top - 18) + 14}" font-family="monospace" font-size="14" fill="#fff">${label}</text>`
    );
  });
  const overlay = Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">${drawn.join('')}</svg>`);
  return library(png)
    .composite([{ input: overlay }])
    .png()
    .toBuffer();
}
