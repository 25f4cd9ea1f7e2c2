import { pictureLibrary } from '../shots/pictures.ts';
import { escapeMarkup } from '../text/markup.ts';

/** Pixels. */
const CELL = 96;
const ACROSS = 12;
const SIZE = 60;

/** Darker than this, of 255, something was drawn. */
const INK = 128;

/**
 * The letters of a text that no font of this machine has: boxes with their numbers are drawn in their place. Where only the wanted font
 * lacks a letter, the library that draws takes it from another one by itself.
 * @param font as CSS has it: serif, sans-serif
 */
export async function lettersWithoutFont(text: string, font: string): Promise<string[]> {
  const letters = [...new Set(text.normalize('NFC').match(/[\p{L}\p{N}\p{P}\p{S}]/gu) ?? [])];
  const [plain, bold] = await Promise.all([drawnCells(letters, font, 400), drawnCells(letters, font, 900)]);
  return letters.filter((_letter, i) => {
    const [cell, heavy] = [plain[i], bold[i]];
    if (cell === undefined || heavy === undefined || isBlank(cell)) return true;
    // The numbers become heavier, their frame does not; that of a letter that looks like a box does.
    const box = boxIn(cell);
    return box !== undefined && box === boxIn(heavy);
  });
}

function isBlank(cell: Buffer): boolean {
  return cell.every((each) => each >= INK);
}

/** The edges but the right one, which heavier numbers push, and the thickness of a closed frame with something in it that does not touch it; undefined where none is drawn. */
function boxIn(cell: Buffer): string | undefined {
  const isInk = (x: number, y: number): boolean => (cell[y * CELL + x] ?? 255) < INK;
  const inked = Array.from({ length: CELL * CELL }, (_, at) => at).filter((at) => isInk(at % CELL, Math.floor(at / CELL)));
  const [xs, ys] = [inked.map((at) => at % CELL), inked.map((at) => Math.floor(at / CELL))];
  const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const ring = (inset: number): boolean[] => {
    const [l, r, t, b] = [left + inset, right - inset, top + inset, bottom - inset];
    const across = Array.from({ length: Math.max(0, r - l + 1) }, (_, i) => [isInk(l + i, t), isInk(l + i, b)]);
    const down = Array.from({ length: Math.max(0, b - t + 1) }, (_, i) => [isInk(l, t + i), isInk(r, t + i)]);
    return [...across, ...down].flat();
  };
  if (!ring(0).every(Boolean)) return undefined;
  const gap = [1, 2, 3, 4, 5, 6].find((inset) => !ring(inset).some(Boolean));
  const isFilled = gap !== undefined && Array.from({ length: 12 }, (_, i) => ring(gap + i)).some((each) => each.some(Boolean));
  return isFilled ? [left, top, bottom, gap].join(' ') : undefined;
}

/** Letters drawn one by one, each in a square of gray values, row by row. */
async function drawnCells(letters: readonly string[], font: string, weight: number): Promise<Buffer[]> {
  if (letters.length === 0) return [];
  const [width, height] = [ACROSS * CELL, Math.ceil(letters.length / ACROSS) * CELL];
  const place = (i: number): readonly [x: number, y: number] => [(i % ACROSS) * CELL, Math.floor(i / ACROSS) * CELL];
  const words = letters.map((letter, i) => {
    const [x, y] = place(i);
    const at = `x="${x + CELL * 0.1}" y="${y + CELL * 0.75}"`;
    return `<text ${at} font-family="${font}" font-size="${SIZE}" font-weight="${weight}">${escapeMarkup(letter)}</text>`;
  });
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">${words.join('')}</svg>`;
  const library = await pictureLibrary();
  const grey = await library(Buffer.from(svg)).flatten({ background: '#ffffff' }).greyscale().raw().toBuffer();
  return letters.map((_letter, i) => {
    const [left, top] = place(i);
    const rows = Array.from({ length: CELL }, (_, y) => grey.subarray((top + y) * width + left, (top + y) * width + left + CELL));
    return Buffer.concat(rows);
  });
}
