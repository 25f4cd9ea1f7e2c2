import { escapeMarkup } from './escape-markup.ts';
import { pageShell } from './page-shell.ts';

/** A page on the sheet: its role, where its file lies from the sheet, and the remarks on it. */
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
    const caption = (name: string, list: readonly string[]): string =>
      `<figcaption><strong>${escapeMarkup(name)}</strong>${notes(list)}</figcaption>`;
    const own = `<figure>${caption(role, said)}${frame(file, role)}</figure>`;
    const old =
      before === undefined
        ? ''
        : `<figure>${caption(`${role} of ${other ?? ''}`, before.notes)}${frame(before.file, `${role}, ${other ?? ''}`)}</figure>`;
    return `<section class="${before === undefined ? 'one' : 'two'}"><h2>${escapeMarkup(role)}</h2><div>${old}${own}</div></section>`;
  };
  return pageShell(
    title,
    STYLE,
    `<h1>${escapeMarkup(title)}</h1>
<p>The pages show sample content: links on them lead nowhere.</p>
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
h1 + p { color: var(--faint); margin: -.7rem 0 1rem }
main { display: grid; grid-template-columns: repeat(auto-fill, minmax(min(22rem, 100%), 1fr)); gap: 1.25rem }
section { container-type: inline-size }
.two { grid-column: 1 / -1 }
section > div { display: grid; grid-auto-flow: column; grid-auto-columns: 1fr; gap: .75rem }
figure { margin: 0; container-type: inline-size }
/* The scale is the width of the frame in parts of the page’s: two lengths divide by way of an angle. */
.frame { display: block; aspect-ratio: 3 / 2; overflow: hidden; border: 1px solid var(--line); background: #fff }
iframe { width: 1280px; height: 853px; border: 0; transform: scale(tan(atan2(100cqw, 1280px))); transform-origin: 0 0; pointer-events: none }
figcaption { margin-bottom: .3rem; overflow-wrap: anywhere }
figcaption strong { font-size: 1.05rem; margin-right: .5rem }
small { color: var(--faint) }
a:focus-visible .frame { outline: 3px solid Highlight }
`;
