/// <reference lib="dom" />
// These functions are sent to a page and run there: each is whole by itself.
import type { Box, Stumble } from './stumble.ts';
import type { TextOnPicture } from './text-on-pictures.ts';

/** Waits until the fonts are loaded, or it is known that they cannot be. */
export async function whenFontsAreThere(): Promise<void> {
  await document.fonts.ready;
}

/** In CSS pixels. */
export function pageHeight(): number {
  return document.documentElement.scrollHeight;
}

/** Runs in the page: what is wider than the window, and texts that are cut. */
export function findOverflow(): Stumble[] {
  const selectorOf = (element: Element): string => {
    const id = element.id === '' ? '' : `#${CSS.escape(element.id)}`;
    const classes = [...element.classList].slice(0, 2).map((name) => `.${CSS.escape(name)}`);
    return `${element.tagName.toLowerCase()}${id}${classes.join('')}`;
  };
  const boxOf = (element: Element): Box => {
    const { left, top, width, height } = element.getBoundingClientRect();
    return { x: left + scrollX, y: top + scrollY, width, height };
  };
  const stumble = (element: Element, message: string): Stumble => ({
    kind: 'overflow',
    message,
    element: { selector: selectorOf(element), markup: element.outerHTML.slice(0, 200) },
    box: boxOf(element),
  });
  const hasText = (element: Element): boolean =>
    [...element.childNodes].some((node) => node.nodeType === Node.TEXT_NODE && (node.textContent ?? '').trim() !== '');
  const found: Stumble[] = [];
  const room = document.documentElement.clientWidth;
  const isHidden = (element: Element): boolean => {
    const { width, height } = element.getBoundingClientRect();
    const style = getComputedStyle(element);
    return width < 2 || height < 2 || style.visibility === 'hidden' || style.display === 'none';
  };
  /** Whether something around an element scrolls sideways, or cuts what is too wide. */
  const isHeld = (element: Element): boolean => {
    for (let at = element.parentElement; at !== null && at !== document.body; at = at.parentElement)
      if (['auto', 'scroll', 'hidden', 'clip'].includes(getComputedStyle(at).overflowX)) return true;
    return false;
  };
  if (document.documentElement.scrollWidth > room + 1) {
    const wide = [...document.body.querySelectorAll('*')].filter(
      (element) => !isHidden(element) && !isHeld(element) && Math.round(element.getBoundingClientRect().right + scrollX) > room + 1,
    );
    // Of those in one another, the innermost is what is too wide.
    const inner = wide.filter((element) => !wide.some((other) => other !== element && element.contains(other)));
    for (const element of (inner.length > 0 ? inner : [document.body]).slice(0, 5))
      found.push(
        stumble(
          element,
          `${selectorOf(element)} is wider than the window by ${Math.round(element.getBoundingClientRect().right + scrollX - room)} pixels`,
        ),
      );
  }
  for (const element of document.body.querySelectorAll('*')) {
    if (!(element instanceof HTMLElement) || isHidden(element) || !hasText(element)) continue;
    const style = getComputedStyle(element);
    const isCut =
      (['hidden', 'clip'].includes(style.overflowX) && element.scrollWidth > element.clientWidth + 1) ||
      (['hidden', 'clip'].includes(style.overflowY) && element.scrollHeight > element.clientHeight + 2);
    // Dots at the end say that there is more, on purpose.
    if (isCut && style.textOverflow !== 'ellipsis' && style.webkitLineClamp === 'none')
      found.push(stumble(element, `the text of ${selectorOf(element)} is cut`));
  }
  return found.slice(0, 10);
}

/** Forgets what a window keeps from page to page. @returns whether it could */
export function forgetWhatIsKept(): boolean {
  sessionStorage.clear();
  window.name = '';
  return window.name === '' && sessionStorage.length === 0;
}

/** The findings of one rule of the engine. */
export interface AccessResult {
  readonly id: string;
  readonly help: string;
  readonly nodes: readonly {
    readonly selector: string;
    readonly markup: string;
    readonly box: Box;
    readonly contrast?: string | undefined;
  }[];
}

/** The engine's view of a page: what is wrong, and for which texts it could not tell the contrast. */
export interface AccessResults {
  readonly wrong: readonly AccessResult[];
  readonly onPictures: readonly TextOnPicture[];
}

/** Runs in the page: what the engine that was put there finds; undefined when it is not there. */
export async function runAccessEngine(levels: readonly string[]): Promise<AccessResults | undefined> {
  interface Node {
    readonly target: readonly unknown[];
    readonly html: string;
    readonly any: readonly {
      readonly data?: {
        readonly messageKey?: string;
        readonly contrastRatio?: number;
        readonly expectedContrastRatio?: string;
        readonly fgColor?: string;
        readonly bgColor?: string;
      } | null;
    }[];
  }
  type Found = readonly { readonly id: string; readonly help: string; readonly nodes: readonly Node[] }[];
  interface Engine {
    run(root: Document, options: object): Promise<{ violations: Found; incomplete: Found }>;
  }
  const boxOf = ({ left, top, width, height }: DOMRect): Box => ({ x: left + scrollX, y: top + scrollY, width, height });
  const textOf = ({ target, html }: Node): TextOnPicture[] => {
    const selector = target.map(String).join(' ');
    const element = document.querySelector(selector);
    if (element === null) return [];
    const style = getComputedStyle(element);
    // A shadow may be what sets it off.
    if (style.textShadow !== 'none') return [];
    // There are many ways to write a color; a canvas knows them all.
    const dot = new OffscreenCanvas(1, 1).getContext('2d');
    if (dot === null) return [];
    dot.fillStyle = style.color;
    dot.fillRect(0, 0, 1, 1);
    const [red = 0, green = 0, blue = 0, alpha = 0] = dot.getImageData(0, 0, 1, 1).data;
    const size = Number.parseFloat(style.fontSize);
    const wanted = size >= 24 || (size >= 18.66 && Number(style.fontWeight) >= 700) ? 3 : 4.5;
    const lines = [...element.childNodes].flatMap((node) => {
      if (node.nodeType !== Node.TEXT_NODE) return [];
      const range = document.createRange();
      range.selectNodeContents(node);
      // A line is higher than its letters, and may be higher than what it stands on.
      return [...range.getClientRects()].map(({ left, top, width, height }) =>
        boxOf(new DOMRect(left, top + 0.15 * height, width, 0.7 * height)),
      );
    });
    const box = boxOf(element.getBoundingClientRect());
    return [{ selector, markup: html.slice(0, 200), box, lines, colour: [red, green, blue, alpha / 255], wanted }];
  };
  const { axe } = globalThis as unknown as { axe?: Engine };
  // A page can keep scripts from bringing anything: then nothing was judged, which is not the same as nothing found.
  if (axe?.run === undefined) return undefined;
  const { violations, incomplete } = await axe.run(document, {
    runOnly: { type: 'tag', values: levels },
    resultTypes: ['violations', 'incomplete'],
  });
  const unsure = incomplete.filter(({ id }) => id === 'color-contrast').flatMap(({ nodes }) => nodes);
  const onPictures = unsure
    .filter(({ any }) => any.some(({ data }) => ['bgImage', 'bgGradient', 'imgNode'].includes(data?.messageKey ?? '')))
    .slice(0, 50)
    .flatMap(textOf);
  const wrong = violations.map(({ id, help, nodes }) => ({
    id,
    help,
    nodes: nodes.slice(0, 8).map(({ target, html, any }) => {
      const selector = target.map(String).join(' ');
      const element = document.querySelector(selector);
      const data = any.find((each) => each.data?.contrastRatio !== undefined)?.data;
      const contrast =
        data === undefined || data === null
          ? undefined
          : `${data.contrastRatio} to 1, wanted ${data.expectedContrastRatio} (${data.fgColor} on ${data.bgColor})`;
      return { selector, markup: html.slice(0, 200), box: boxOf(element?.getBoundingClientRect() ?? new DOMRect()), contrast };
    }),
  }));
  return { wrong, onPictures };
}

/** Runs in the page: takes the texts away, or brings them back; what is behind them stays. */
export function hideTexts(isHidden: boolean): void {
  if (!isHidden) {
    document.adoptedStyleSheets = document.adoptedStyleSheets.slice(0, -1);
    return;
  }
  const sheet = new CSSStyleSheet();
  const nothing = ['color', '-webkit-text-fill-color', 'text-decoration-color', 'caret-color', '-webkit-text-stroke-color'];
  sheet.replaceSync(
    `*, ::before, ::after { ${nothing.map((name) => `${name}: transparent !important`).join('; ')}; transition: none !important }`,
  );
  document.adoptedStyleSheets = [...document.adoptedStyleSheets, sheet];
}
