import { TRACED_KINDS, type Trace, type TracedFile } from '../../core/lineage/trace.ts';
import { escapeMarkup } from './escape-markup.ts';
import { pageShell } from './page-shell.ts';
import { titleOfKind } from './trace-text.ts';

/** A trace as one page that needs nothing else: the chain as columns, a row for each file, filters and a search. */
export function tracePage(trace: Trace): string {
  const { layers, files, roles, sheets, regions } = trace;
  const [first] = layers;
  const id = first?.id ?? '';
  const name = (layer: number | undefined): string => (layer === undefined ? '' : (layers[layer]?.id ?? ''));
  const rolesOf = (path: string): string =>
    roles
      .filter((role) => role.path === path)
      .map(({ role }) => role)
      .join(', ');
  const row = (file: TracedFile): string => {
    const cells = layers.map((_layer, i) =>
      i === file.from
        ? '<td class="taken"><span aria-hidden="true">●</span> served</td>'
        : file.shadows.includes(i)
          ? '<td class="over"><span aria-hidden="true">○</span> not asked</td>'
          : '<td class="none"><span aria-hidden="true">·</span><span class="unseen">none</span></td>',
    );
    const notes = [
      rolesOf(file.path) === '' ? '' : `pages: ${rolesOf(file.path)}`,
      file.taken === undefined ? '' : `copied from ${file.taken.theme} ${file.taken.version ?? ''}`.trim(),
    ].filter((note) => note !== '');
    const data = `data-path="${escapeMarkup(file.path.toLowerCase())}" data-kind="${file.kind}" data-from="${file.from}" data-over="${file.shadows.length > 0}"`;
    return `<tr ${data}><th scope="row">${escapeMarkup(file.path)}${notes.length === 0 ? '' : ` <small>${escapeMarkup(notes.join('; '))}</small>`}</th>${cells.join('')}</tr>`;
  };
  const kinds = TRACED_KINDS.filter((kind) => files.some((file) => file.kind === kind));
  const groups = kinds.map((kind) => {
    const own = files.filter((file) => file.kind === kind);
    return `<tbody data-kind="${kind}"><tr class="group"><th scope="rowgroup" colspan="${layers.length + 1}">${escapeMarkup(titleOfKind(kind))}</th></tr>${own.map(row).join('')}</tbody>`;
  });
  const heads = layers.map(
    ({ id: layer, version, kind }) =>
      `<th scope="col">${escapeMarkup(layer)} <small>${escapeMarkup([version ?? '', kind === 'built-in' ? 'comes with the host' : kind === 'commons' ? 'shared files' : ''].filter(Boolean).join(' '))}</small></th>`,
  );
  const options = (values: readonly (readonly [value: string, text: string])[]): string =>
    values.map(([value, text]) => `<option value="${escapeMarkup(value)}">${escapeMarkup(text)}</option>`).join('');
  const missing =
    trace.broken?.kind === 'missing'
      ? `<p class="missing" role="alert">The parent “${escapeMarkup(trace.broken.id)}” is not here: what it would serve is not shown.</p>`
      : '';
  const printedIn = (printed: (typeof regions)[number]['printed']): string =>
    printed.length === 0 ? 'printed nowhere' : printed.map(({ from, path, line }) => `${path}:${line} (${name(from)})`).join(', ');
  const regionRows = regions.map(
    ({ name: region, declared, printed }) =>
      `<tr><th scope="row">${escapeMarkup(region)}</th><td>${declared === undefined ? 'offered by the host' : `declared by ${escapeMarkup(name(declared))}`}</td><td>${escapeMarkup(printedIn(printed))}</td></tr>`,
  );
  const body = `<header>
<h1>${escapeMarkup(id)}: what comes from where</h1>
<p>${layers.map((layer) => escapeMarkup(`${layer.id} ${layer.version ?? ''}`.trim())).join(' <span aria-label="builds on">→</span> ')}</p>
${missing}
<form role="search" aria-label="Files" onsubmit="return false">
<label>Search <input type="search" id="search" placeholder="part of a path"></label>
<label>Kind <select id="kind"><option value="">all</option>${options(kinds.map((kind) => [kind, titleOfKind(kind)]))}</select></label>
<label>Served from <select id="from"><option value="">any</option>${options(layers.map(({ id: layer }, i) => [String(i), layer]))}</select></label>
<label><input type="checkbox" id="over"> in the place of another’s</label>
<output id="count" aria-live="polite">${files.length} files</output>
</form>
</header>
<main>
<table id="files">
<caption class="unseen">Files, by what they are for, with the theme that serves each</caption>
<thead><tr><th scope="col">File</th>${heads.join('')}</tr></thead>
${groups.join('\n')}
</table>
<p id="nothing" hidden>No file is like that.</p>
${sheets.length === 0 ? '' : `<h2>Stylesheets, in the order in which they load</h2>\n<ol>${sheets.map(({ from, path }) => `<li>${escapeMarkup(path)} <small>${escapeMarkup(name(from))}</small></li>`).join('')}</ol>`}
${regionRows.length === 0 ? '' : `<h2>Regions</h2>\n<table><thead><tr><th scope="col">Region</th><th scope="col">Declared</th><th scope="col">Printed</th></tr></thead><tbody>${regionRows.join('')}</tbody></table>`}
</main>
<script>${SCRIPT}</script>`;
  return pageShell(
    `${id}: what comes from where`,
    STYLE,
    body,
    "default-src 'none'; style-src 'unsafe-inline'; script-src 'unsafe-inline'",
  );
}

const STYLE = `
:root { color-scheme: light dark; --line: #c8d0d4; --faint: #5b6b73; --taken: #10603a; --own: #e3f2e9; --bar: #eef2f4 }
@media (prefers-color-scheme: dark) { :root { --line: #39464d; --faint: #9fb0b8; --taken: #7fd6a3; --own: #173526; --bar: #1c2529 } }
body { font: 15px/1.45 system-ui, sans-serif; margin: 0 }
header { padding: 1rem 1.5rem .75rem; background: var(--bar); border-bottom: 1px solid var(--line) }
h1 { font-size: 1.35rem; margin: 0 }
header p { margin: .25rem 0 .75rem }
form { display: flex; flex-wrap: wrap; gap: .5rem 1.25rem; align-items: center }
input[type=search], select { font: inherit; padding: .2rem .4rem; margin-left: .3rem }
output { margin-left: auto; color: var(--faint) }
main { padding: 0 1.5rem 2rem }
h2 { font-size: 1.1rem; margin: 1.5rem 0 .5rem }
table { border-collapse: collapse; width: 100% }
th, td { text-align: left; padding: .22rem .6rem; border-bottom: 1px solid var(--line); vertical-align: top }
thead th { position: sticky; top: 0; background: Canvas; white-space: nowrap }
tbody th { font-weight: normal; overflow-wrap: anywhere }
tr.group th { font-weight: 600; padding-top: .9rem }
td { white-space: nowrap }
.taken { color: var(--taken); font-weight: 600 }
tr[data-from="0"] td.taken { background: var(--own) }
.over, .none, small { color: var(--faint) }
.missing { font-weight: 600 }
.unseen { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%) }
`;

const SCRIPT = `
const field = (id) => document.getElementById(id);
const rows = [...document.querySelectorAll('#files tr[data-path]')];
function show() {
  const words = field('search').value.toLowerCase().split(/\\s+/).filter(Boolean);
  const [kind, from, over] = [field('kind').value, field('from').value, field('over').checked];
  let shown = 0;
  for (const row of rows) {
    const { path, kind: own, from: layer, over: isOver } = row.dataset;
    const fits = words.every((word) => path.includes(word)) && (kind === '' || own === kind) && (from === '' || layer === from) && (!over || isOver === 'true');
    row.hidden = !fits;
    shown += fits ? 1 : 0;
  }
  for (const group of document.querySelectorAll('#files tbody')) group.hidden = [...group.querySelectorAll('tr[data-path]')].every((row) => row.hidden);
  field('count').value = shown === 1 ? '1 file' : shown + ' files';
  field('nothing').hidden = shown > 0;
}
for (const id of ['search', 'kind', 'from', 'over']) field(id).addEventListener('input', show);
`;
