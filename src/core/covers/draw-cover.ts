import { contrast, type Palette } from './palette.ts';
import { escapeMarkup } from '../text/markup.ts';

/** The texts on a drawn cover. */
export interface CoverText {
  readonly title: string;
  readonly summary?: string | undefined;
  /** Below everything, small: who made it, which version. */
  readonly foot?: string | undefined;
}

/** How much room a letter takes on average, in parts of the font’s size. */
const LETTER = 0.56;

/**
 * Draws a cover with a title, as SVG (SVG 1.1): the title on the theme’s ground, beside it a page in its colors.
 * @param width pixels @param height pixels
 */
export function drawCover({ title, summary, foot }: CoverText, palette: Palette, font: string, width: number, height: number): string {
  const { ground, ink, accent, colours } = palette;
  const unit = Math.min(width, height);
  const margin = unit * 0.09;
  const isWide = width > height * 1.15 && unit >= 120;
  const room = isWide ? width * 0.52 - margin : width - 2 * margin;
  const most = unit * (isWide ? 0.13 : 0.15);
  const lines = wrapped(title, room, most, 3);
  const size = Math.min(most, ...lines.map((line) => room / (LETTER * Math.max(1, line.length))));
  const top = isWide ? height * 0.3 : margin + size;
  const text = lines.map((line, i) => word(line, margin, top + i * size * 1.12, size, ink, font, 700));
  const below = top + (lines.length - 1) * size * 1.12;
  const small = Math.max(unit * 0.036, 9);
  const said = unit < 120 || summary === undefined ? [] : wrapped(summary, room, small, 3);
  const words = said.map((line, i) => word(line, margin, below + small * 2.1 + i * small * 1.45, small, ink, 'sans-serif', 400));
  const swatches =
    unit < 120
      ? []
      : colours.map(
          (colour, i) =>
            `<rect x="${n(margin + i * unit * 0.075)}" y="${n(height - margin - unit * 0.05)}" width="${n(unit * 0.06)}" height="${n(unit * 0.05)}" rx="${n(unit * 0.008)}" fill="${colour}" stroke="${ink}" stroke-opacity=".18"/>`,
        );
  const signed =
    foot === undefined || unit < 240 ? [] : [word(foot, margin, height - margin - unit * 0.075, small * 0.85, ink, 'sans-serif', 400)];
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">`,
    `<rect width="${width}" height="${height}" fill="${ground}"/>`,
    `<rect x="${n(margin)}" y="${n(isWide ? top - size * 1.35 : margin * 0.5)}" width="${n(unit * 0.14)}" height="${n(Math.max(2, unit * 0.014))}" fill="${accent}"/>`,
    ...text,
    ...words,
    ...signed,
    ...swatches,
    ...(isWide ? [sketch(width * 0.56, height * 0.16, width * 0.5, height * 0.9, palette, unit)] : []),
    '</svg>',
    '',
  ].join('\n');
}

/** A page as one sees it from afar: a head, a picture, lines; it runs out of the picture at the right. */
function sketch(x: number, y: number, width: number, height: number, { ground, ink, accent, colours }: Palette, unit: number): string {
  const gap = unit * 0.03;
  const bar = (left: number, top: number, wide: number, high: number, fill: string, opacity = 1): string =>
    `<rect x="${n(x + left)}" y="${n(y + top)}" width="${n(wide)}" height="${n(high)}" rx="${n(unit * 0.006)}" fill="${fill}" fill-opacity="${opacity}"/>`;
  const seen = colours
    .filter((each) => each !== accent && contrast(each, ground) >= 2)
    .toSorted((a, b) => contrast(b, ground) - contrast(a, ground));
  const head = seen.find((each) => each !== ink) ?? ink;
  const plates = [accent, seen.at(-1) ?? ink];
  const cards = [0, 1].flatMap((i) => {
    const left = gap + i * (width * 0.44 + gap);
    return [
      bar(left, height * 0.52, width * 0.44, height * 0.16, plates[i] ?? accent, 0.55),
      bar(left, height * 0.71, width * 0.3, gap * 0.55, ink, 0.7),
      bar(left, height * 0.76, width * 0.4, gap * 0.4, ink, 0.35),
      bar(left, height * 0.8, width * 0.36, gap * 0.4, ink, 0.35),
    ];
  });
  return [
    `<rect x="${n(x)}" y="${n(y)}" width="${n(width)}" height="${n(height)}" rx="${n(unit * 0.015)}" fill="${ground}" stroke="${ink}" stroke-opacity=".25" stroke-width="${n(Math.max(1, unit * 0.003))}"/>`,
    bar(0, 0, width, height * 0.1, head),
    bar(gap, height * 0.04, width * 0.2, gap * 0.6, ground, 0.9),
    bar(gap, height * 0.17, width * 0.5, gap, ink, 0.85),
    bar(gap, height * 0.24, width * 0.62, gap * 0.45, ink, 0.4),
    bar(gap, height * 0.28, width * 0.56, gap * 0.45, ink, 0.4),
    bar(gap, height * 0.35, width * 0.18, gap * 1.5, accent),
    ...cards,
  ].join('\n');
}

function word(text: string, x: number, y: number, size: number, fill: string, font: string, weight: number): string {
  return `<text x="${n(x)}" y="${n(y)}" font-family="${font}" font-size="${n(size)}" font-weight="${weight}" fill="${fill}">${escaped(text)}</text>`;
}

/** A text in lines that fit, the last with dots where it goes on. */
function wrapped(text: string, room: number, size: number, most: number): string[] {
  const fits = Math.max(6, Math.floor(room / (size * LETTER)));
  const lines: string[] = [];
  for (const each of text.trim().split(/\s+/)) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + 1 + each.length <= fits) lines[lines.length - 1] = `${last} ${each}`;
    else lines.push(each);
  }
  if (lines.length <= most) return lines;
  return [...lines.slice(0, most - 1), `${lines[most - 1] ?? ''}…`];
}

function escaped(text: string): string {
  return escapeMarkup(text).replaceAll(/\p{Cc}/gu, '');
}

function n(value: number): string {
  return String(Math.round(value * 10) / 10);
}
