import { contrastRatio, luminance, type Rgb } from '../text/contrast.ts';
import { pictureLibrary } from './pictures.ts';
import type { Box, Stumble } from './stumble.ts';

/** A text over a picture or a gradient: what its contrast is, only the pixels behind it tell. */
export interface TextOnPicture {
  readonly selector: string;
  readonly markup: string;
  readonly box: Box;
  /** Where its lines are on the picture, in pixels. */
  readonly lines: readonly Box[];
  /** Red, green, blue (0 to 255) and opacity (0 to 1). */
  readonly colour: readonly [...Rgb, opacity: number];
  /** The contrast that texts of its size must have (WCAG 2.1, 1.4.3). */
  readonly wanted: number;
}

/** So much of what is behind a text may be too much like it: a thin line, the edge of something. */
const TOLERATED = 0.05;

/**
 * Texts that do not stand out enough from their background.
 * @param picture of the page without its texts, a PNG
 */
export async function judgeTextsOnPictures(texts: readonly TextOnPicture[], picture: Buffer): Promise<Stumble[]> {
  const library = await pictureLibrary();
  const { data, info } = await library(picture).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return texts.flatMap((text): Stumble[] => {
    const ratios = text.lines.flatMap((line) => [...coloursIn(data, info, line)].map((behind) => ratioOver(text.colour, behind)));
    // The worst places but for those few that do not count.
    const ratio = ratios.sort((a, b) => a - b)[Math.floor(ratios.length * TOLERATED)];
    if (ratio === undefined || ratio >= text.wanted) return [];
    const { selector, markup, box, wanted } = text;
    const message = `${selector}: the text lies over a picture, and its contrast is as low as ${ratio.toFixed(2)} to 1, wanted ${wanted}:1`;
    return [{ kind: 'access', rule: 'contrast-over-picture', message, element: { selector, markup }, box }];
  });
}

function ratioOver([red, green, blue, opacity]: TextOnPicture['colour'], behind: Rgb): number {
  const seen = ([red, green, blue] as const).map((part, i) => part * opacity + (behind[i] ?? 0) * (1 - opacity));
  return contrastRatio(luminance(seen as unknown as Rgb), luminance(behind));
}

/** Every second pixel of every second row. */
function* coloursIn(
  data: Buffer,
  { width, height, channels }: { readonly width: number; readonly height: number; readonly channels: number },
  box: Box,
): Generator<Rgb> {
  for (let y = Math.max(0, Math.round(box.y)); y < Math.min(height, box.y + box.height); y += 2)
    for (let x = Math.max(0, Math.round(box.x)); x < Math.min(width, box.x + box.width); x += 2) {
      const at = (y * width + x) * channels;
      yield [data[at] ?? 0, data[at + 1] ?? 0, data[at + 2] ?? 0];
    }
}
