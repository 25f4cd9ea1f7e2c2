import { escapeMarkup } from './escape-markup.ts';
import { pageShell } from './page-shell.ts';

/** A page on the sheet: its role, where its file lies from the sheet, and what is to be said of it. */
export interface SheetPage {
  readonly role: string;
  readonly file: string;
  readonly notes: readonly string[];
  /** The same page of another theme, to be seen beside it. */
  readonly before?: { readonly file: string; readonly notes: readonly string[] } | undefined;
}

/** All pages of a theme side by side, small, each a link to the page itself; where there is another theme, its page beside each. */
export function contactSheet(title: string, pages: readonly SheetPage[], other: string | undefined): string {
  const frame = (file: string, label: string): string =>
    `<a href="${escapeMarkup(file)}" aria-label="${escapeMarkup(`open ${label}`)}"><span class="frame"><iframe src="${escapeMarkup(file)}" title="${escapeMarkup(label)}" tabindex="-1" loading="lazy" scrolling="no" sandbox="allow-same-origin"></iframe></span></a>`;
  const notes = (list: readonly string[]): string => (list.length === 0 ? '' : `<small>${escapeMarkup(list.join('; '))}</small>`);
  const card = ({ role, file, notes: said, before }: SheetPage): string => {
    const own = `<figure>${frame(file, role)}<figcaption>${escapeMarkup(role)} ${notes(said)}</figcaption></figure>`;
    const old =
      before === undefined
        ? ''
        : `<figure>${frame(before.file, `${role}, ${other ?? ''}`)}<figcaption>${escapeMarkup(other ?? '')} ${notes(before.notes)}</figcaption></figure>`;
    return `<section class="${before === undefined ? 'one' : 'two'}"><h2>${escapeMarkup(role)}</h2><div>${old}${own}</div></section>`;
  };
  return pageShell(
    title,
    STYLE,
    `<h1>${escapeMarkup(title)}</h1>
<main>
${pages.map(card).join('\n')}
</main>`,
  );
}

const STYLE = `
:root { color-scheme: light dark; --line: #b8c2c7; --faint: #5b6b73 }
@media (prefers-color-scheme: dark) { :root { --line: #39464d; --faint: #9fb0b8 } }
body { font: 15px/1.45 system-ui, sans-serif; margin: 1rem 1.5rem }
h1 { font-size: 1.3rem; margin: 0 0 1rem }
h2 { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%) }
main { display: flex; flex-wrap: wrap; gap: 1.25rem }
section > div { display: flex; gap: .5rem }
figure { margin: 0 }
.frame { display: block; width: 384px; height: 256px; overflow: hidden; border: 1px solid var(--line); background: #fff }
iframe { width: 1280px; height: 853px; border: 0; transform: scale(.3); transform-origin: 0 0; pointer-events: none }
.two .frame { width: 600px; height: 400px }
.two iframe { transform: scale(.46875) }
figcaption { margin-top: .3rem; max-width: 384px; overflow-wrap: anywhere }
small { color: var(--faint); display: block }
a:focus-visible .frame { outline: 3px solid Highlight }
`;
