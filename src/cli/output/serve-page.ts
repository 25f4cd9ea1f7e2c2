import { frontPage, pageName, type Page } from '../../core/rehearsal/pages.ts';
import type { KeptRehearsal } from '../../core/rehearsal/kept.ts';
import { escapeMarkup } from './escape-markup.ts';
import { pageShell } from './page-shell.ts';

/** A page around a theme’s page: which theme, which page of it, and how the reader wants it. */
export function framePage(ids: readonly string[], now: KeptRehearsal | undefined, id: string): string {
  const option = (value: string, label: string, isChosen: boolean): string =>
    `<option value="${escapeMarkup(value)}"${isChosen ? ' selected' : ''}>${escapeMarkup(label)}</option>`;
  const made = (pages: readonly Page[] = []): readonly Page[] => pages.filter(({ isRendered }) => isRendered);
  const states = new Map<string, Page[]>();
  for (const page of made(now?.states)) states.set(page.state ?? '', [...(states.get(page.state ?? '') ?? []), page]);
  const groups = [...states].map(
    ([state, pages]) =>
      `<optgroup label="${escapeMarkup(state)}">${pages.map((page) => option(pageName(page), `${page.role} · ${state}`, false)).join('')}</optgroup>`,
  );
  const front = now === undefined ? undefined : frontPage(now.theme.platform, now.pages);
  const title = now?.theme.names.title ?? id;
  const body = `<form aria-label="what is shown">
<label>Theme <select name="theme">${ids.map((each) => option(each, each, each === id)).join('')}</select></label>
<label>Page <select name="page">${made(now?.pages)
    .map((page) => option(pageName(page), page.role, page === front))
    .join('')}${groups.join('')}</select></label>
<fieldset><legend>Scheme</legend><label><input type="radio" name="scheme" value="light" checked> light</label><label><input type="radio" name="scheme" value="dark"> dark</label></fieldset>
<label><input type="checkbox" name="narrow"> narrow</label>
<label><input type="checkbox" name="contrast"> more contrast</label>
<a href="" target="_blank">alone</a>
</form>
<p role="status" class="leads" hidden></p>
<main><iframe title="the page" src="about:blank"></iframe></main>
<script>${SCRIPT}</script>`;
  return pageShell(title, STYLE, body);
}

/** Shown in place of a page that cannot be made. */
export function problemPage(message: string, links: readonly { readonly name: string; readonly address: string }[] = []): string {
  const again = `<script>new EventSource('/changes').addEventListener('change',()=>location.reload())</script>`;
  const items = links.map(({ name, address }) => `<li><a href="${escapeMarkup(address)}">${escapeMarkup(name)}</a></li>`);
  const list = links.length === 0 ? '' : `<p>The pages of the theme:</p>\n<ul>${items.join('')}</ul>`;
  return pageShell('not shown', STYLE, `<div class="problem"><p role="alert">${escapeMarkup(message)}</p>\n${list}</div>\n${again}`);
}

/** The choice stands in the part of the address after “#”, so that it can be kept and is the same after a change. */
const SCRIPT = `
const form = document.forms[0], frame = document.querySelector('iframe'), alone = document.querySelector('form a');
const kept = new URLSearchParams(location.hash.slice(1));
for (const name of ['page', 'scheme']) if (kept.has(name)) form.elements[name].value = kept.get(name);
if (!form.elements.page.value) form.elements.page.selectedIndex = 0;
for (const name of ['narrow', 'contrast']) form.elements[name].checked = kept.has(name);
const show = () => {
  const now = new URLSearchParams();
  for (const name of ['page', 'scheme']) now.set(name, form.elements[name].value);
  for (const name of ['narrow', 'contrast']) if (form.elements[name].checked) now.set(name, '1');
  history.replaceState(null, '', '#' + now);
  const setting = form.elements.scheme.value + (form.elements.contrast.checked ? '-contrast' : '');
  const address = setting + '/' + encodeURIComponent(form.elements.page.value) + '.html';
  document.body.classList.toggle('narrow', form.elements.narrow.checked);
  alone.href = address;
  if (!frame.contentWindow.location.pathname.endsWith('/' + address)) frame.src = address;
};
form.addEventListener('change', ({ target }) => {
  if (target.name === 'theme') location.href = '/' + encodeURIComponent(target.value) + '/' + location.hash;
  else show();
});
const leads = document.querySelector('.leads');
addEventListener('message', ({ data, origin }) => {
  if (origin !== location.origin || !data.leads) return;
  leads.textContent = 'This link leads out of the site, to ' + data.leads;
  leads.hidden = false;
});
// A link on the page leads to another one of the theme: it is the one that is chosen then.
frame.addEventListener('load', () => {
  leads.hidden = true;
  const [, name] = /([^/]+)\\.html$/.exec(frame.contentWindow.location.pathname) ?? [];
  const found = [...form.elements.page.options].find(({ value }) => value === decodeURIComponent(name ?? ''));
  if (found === undefined || found.selected) return;
  found.selected = true;
  show();
});
form.addEventListener('submit', (event) => event.preventDefault());
new EventSource('/changes').addEventListener('change', () => setTimeout(() => location.reload(), 50));
show();
`;

const STYLE = `
:root { color-scheme: light dark; --line: #b8c2c7 }
@media (prefers-color-scheme: dark) { :root { --line: #39464d } }
* { box-sizing: border-box }
html, body { height: 100%; margin: 0 }
body { display: flex; flex-direction: column; font: 14px/1.4 system-ui, sans-serif }
form { display: flex; flex-wrap: wrap; gap: .4rem 1.2rem; align-items: center; padding: .5rem .8rem; border-bottom: 1px solid var(--line) }
fieldset { display: flex; gap: .7rem; border: 0; margin: 0; padding: 0 }
legend { float: left; padding: 0; margin-right: .5rem }
select, input { font: inherit }
form a { margin-left: auto }
.leads { margin: 0; padding: .3rem .8rem; background: #ffe9a8; color: #3a2c00 }
main { flex: 1; min-height: 0; display: flex; justify-content: center; background: repeating-linear-gradient(45deg, #8882 0 6px, #0000 6px 12px) }
iframe { flex: 1; border: 0; background: #fff }
.narrow iframe { flex: none; width: 390px; border: solid var(--line); border-width: 0 1px }
.problem { margin: 3rem auto; max-width: 40rem; padding: 0 1rem; font-size: 1.1rem }
`;
