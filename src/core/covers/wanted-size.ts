import type { ImageContract } from '../platform/schema.ts';

/** Width and height in pixels. */
export interface PictureSize {
  readonly width: number;
  readonly height: number;
}

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
