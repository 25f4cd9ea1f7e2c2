/** Red, green and blue, 0 to 255 each (sRGB). */
export type Rgb = readonly [red: number, green: number, blue: number];

/** Relative luminance, 0 to 1 (WCAG 2.1, 1.4.3). */
export function luminance(colour: Rgb): number {
  const [red = 0, green = 0, blue = 0] = colour.map((part) => {
    const share = part / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
}

/** How well two luminances can be told from each other, 1 to 21 (WCAG 2.1, 1.4.3). */
export function contrastRatio(one: number, other: number): number {
  return (Math.max(one, other) + 0.05) / (Math.min(one, other) + 0.05);
}
