/** How a reader wants pages, as style sheets can ask (Media Queries Level 5, sections 12.2 to 12.5). */
export interface ReaderSettings {
  readonly scheme: 'light' | 'dark';
  readonly contrast: 'usual' | 'more';
}

const ALWAYS = '(min-width: 0)';
const NEVER = '(max-width: 0)';

/**
 * Answers the questions of a style sheet, or of a page with style sheets in it, about what the reader prefers: each query about the scheme and
 * the contrast becomes one that always, or never, holds.
 */
export function withSettings(text: string, { scheme, contrast }: ReaderSettings): string {
  return text
    .replace(/\(\s*prefers-color-scheme\s*:\s*(light|dark)\s*\)/gi, (_query, asked: string) =>
      asked.toLowerCase() === scheme ? ALWAYS : NEVER,
    )
    .replace(/\(\s*prefers-contrast\s*:\s*(no-preference|more|less|custom)\s*\)/gi, (_query, asked: string) =>
      asked.toLowerCase() === (contrast === 'more' ? 'more' : 'no-preference') ? ALWAYS : NEVER,
    )
    .replace(/\(\s*prefers-contrast\s*\)/gi, contrast === 'more' ? ALWAYS : NEVER);
}
