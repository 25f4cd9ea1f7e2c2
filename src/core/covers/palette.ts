import { kindOfPath } from '../text/file-kinds.ts';
import { contrastRatio, luminance, type Rgb } from '../text/contrast.ts';
import type { Chain } from '../theme/chain.ts';
import { loadedSheets } from '../contents/sheets.ts';

/** The colors of a theme, as #rrggbb. */
export interface Palette {
  /** Behind everything. */
  readonly ground: string;
  /** Of texts; told from the ground at a contrast of at least 4.5. */
  readonly ink: string;
  /** What catches the eye; the ink where a theme has none. */
  readonly accent: string;
  /** All that it uses often, each once, the most used first. */
  readonly colours: readonly string[];
}

const COLOUR = /#(?:[0-9a-f]{6}|[0-9a-f]{3})\b|rgb\(\s*\d{1,3}\s*[, ]\s*\d{1,3}\s*[, ]\s*\d{1,3}\s*\)/gi;
const MOST_COLOURS = 6;
/** Contrast of texts that the Web Content Accessibility Guidelines 2.1 ask for (1.4.3). */
const READABLE = 4.5;

/** The colors that the style sheets and the tokens of a theme use; quiet ones of our own where it has none. */
export function paletteOf(chain: Chain): Palette {
  const text = stylesOf(chain);
  const counts = new Map<string, number>();
  for (const [found] of text.matchAll(COLOUR)) {
    const colour = hexOf(found);
    counts.set(colour, (counts.get(colour) ?? 0) + 1);
  }
  const colours = [...counts].sort((a, b) => b[1] - a[1]).map(([colour]) => colour);
  const declared = (names: string, property: string): string | undefined => declaredColour(text, names, property);
  const page = String.raw`(?:html|body|:root|[\w.-]*page)`;
  const ground = declared(page, 'background(?:-color)?') ?? lightest(colours) ?? '#f6f5f1';
  const wanted = declared(page, 'color');
  const ink = [wanted, ...colours.toSorted((a, b) => contrast(b, ground) - contrast(a, ground)), '#111111', '#ffffff'].find(
    (each): each is string => each !== undefined && contrast(each, ground) >= READABLE,
  );
  const accent = colours
    .filter((each) => each !== ground && contrast(each, ground) >= 1.6)
    .toSorted((a, b) => saturation(b) - saturation(a))[0];
  return { ground, ink: ink ?? '#111111', accent: accent ?? ink ?? '#111111', colours: colours.slice(0, MOST_COLOURS) };
}

/** What kind of font a theme sets its titles in. */
export function fontKindOf(chain: Chain): 'serif' | 'sans-serif' {
  const families = [...stylesOf(chain).matchAll(/(?:font(?:-family)?|--[\w-]{0,40}(?:font|serif|sans)[\w-]{0,40})\s*:\s*([^;}]+)/gi)].map(
    ([, value = '']) => value,
  );
  const last = (kind: string): number => families.filter((value) => new RegExp(`(?:^|[\\s,])${kind}\\s*$`).test(value.trim())).length;
  const serif = last('serif');
  return serif > 0 && serif >= last('sans-serif') ? 'serif' : 'sans-serif';
}

/** The theme’s own sheets and tokens first, those of its parents after them. */
function stylesOf(chain: Chain): string {
  const loaded = loadedSheets(chain).map(({ theme, path }) => theme.source(path)?.text ?? '');
  const own = chain.themes.flatMap((theme) =>
    theme.tree.entries
      .filter(
        ({ kind, path, size }) =>
          kind === 'file' && size < 500_000 && (kindOfPath(path) === 'stylesheet' || /tokens[^/]*\.json$/i.test(path)),
      )
      .map(({ path }) => theme.source(path)?.text ?? ''),
  );
  return [...new Set([...own, ...loaded])].join('\n');
}

/** The color that a rule for certain elements declares, by way of custom properties where it does so (CSS Variables, section 3). */
function declaredColour(text: string, selectors: string, property: string): string | undefined {
  const rule = new RegExp(`(?:^|[\\s,}])${selectors}\\s*(?:,[^{}]*)?\\{[^}]*?[\\s;{]${property}\\s*:\\s*([^;}]+)`, 'gi');
  for (const [, value = ''] of text.matchAll(rule)) {
    const colour = resolved(text, value);
    if (colour !== undefined) return colour;
  }
  return undefined;
}

function resolved(text: string, value: string, depth = 0): string | undefined {
  const named = /var\(\s*(--[\w-]+)/.exec(value)?.[1];
  if (named !== undefined && depth < 5) {
    const declared = new RegExp(`${named}\\s*:\\s*([^;}]+)`).exec(text)?.[1];
    return declared === undefined ? undefined : resolved(text, declared, depth + 1);
  }
  const [found] = value.match(COLOUR) ?? [];
  return found === undefined ? { white: '#ffffff', black: '#000000' }[value.trim().toLowerCase()] : hexOf(found);
}

function hexOf(colour: string): string {
  const lower = colour.toLowerCase();
  if (lower.startsWith('#')) return lower.length === 7 ? lower : lower.replaceAll(/[0-9a-f]/g, '$&$&');
  const parts = (lower.match(/\d+/g) ?? []).slice(0, 3).map((part) => Math.min(255, Number(part)));
  return `#${parts.map((part) => part.toString(16).padStart(2, '0')).join('')}`;
}

function lightest(colours: readonly string[]): string | undefined {
  return colours.slice(0, 2 * MOST_COLOURS).toSorted((a, b) => luminance(rgbOf(b)) - luminance(rgbOf(a)))[0];
}

function rgbOf(colour: string): Rgb {
  const part = (at: number): number => Number.parseInt(colour.slice(at, at + 2), 16);
  return [part(1), part(3), part(5)];
}

/** Of two colors, from 1 to 21 (WCAG 2.1, 1.4.3). */
export function contrast(a: string, b: string): number {
  return contrastRatio(luminance(rgbOf(a)), luminance(rgbOf(b)));
}

function saturation(colour: string): number {
  const parts = rgbOf(colour).map((part) => part / 255);
  const most = Math.max(...parts);
  return most === 0 ? 0 : ((most - Math.min(...parts)) / most) * most;
}
