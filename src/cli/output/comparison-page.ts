import type { Comparison } from '../../core/rules/engine/compare-checks.ts';
import { digits } from '../../core/text/sentence.ts';
import { countsOf } from './comparison-text.ts';
import { escapeMarkup } from './escape-markup.ts';
import { pageShell } from './page-shell.ts';
import { placeFrom } from './places.ts';

/**
 * A comparison as one page that needs nothing else: the rules that broke most first, and the packages, to be sorted, searched and filtered.
 * The packages are data, of which a stretch is drawn at a time: ten thousand rows are no more work for a browser than fifty.
 * @param currentFolder where people are, for the places of packages
 */
export function comparisonPage(comparison: Comparison, names: readonly [before: string, after: string], currentFolder: string): string {
  const { packages, rules } = comparison;
  const counts = countsOf(comparison);
  const data = packages.map(({ folder, id, platform, state, came, went }) => [
    placeFrom(currentFolder, folder, ''),
    id,
    platform,
    state,
    came.map(({ rule, severity, message }) => [rule, severity, message]),
    went.map(({ rule, severity, message }) => [rule, severity, message]),
  ]);
  const ruleRows = rules.map(
    ({ rule, broke, came, went, packages: own }) =>
      `<tr><th scope="row"><button type="button" data-rule="${escapeMarkup(rule)}">${escapeMarkup(rule)}</button></th>${[
        broke,
        came,
        went,
        own,
      ]
        .map((number) => `<td>${digits(number)}</td>`)
        .join('')}</tr>`,
  );
  const states = Object.entries(counts).filter(([, number]) => number > 0);
  const options = states.map(([state, number]) => `<option value="${state}">${state} (${digits(number)})</option>`).join('');
  const body = `<header>
<h1>What changed for ${digits(packages.length)} packages</h1>
<p>${escapeMarkup(names[0])} <span aria-label="compared with">→</span> ${escapeMarkup(names[1])}</p>
<dl>${states.map(([state, number]) => `<div class="${state}"><dt>${state}</dt><dd>${digits(number)}</dd></div>`).join('')}</dl>
</header>
<main>
<section>
<h2>Rules, the worst first</h2>
${
  ruleRows.length === 0
    ? '<p>No rule found anything else than before.</p>'
    : `<div class="scroll"><table id="rules"><thead><tr><th scope="col">Rule</th><th scope="col">broke</th><th scope="col">came</th><th scope="col">went</th><th scope="col">packages</th></tr></thead><tbody>${ruleRows.join('')}</tbody></table></div>`
}
</section>
<section>
<h2>Packages</h2>
<form role="search" aria-label="Packages" onsubmit="return false">
<label>Search <input type="search" id="search" placeholder="part of a path"></label>
<label>State <select id="state"><option value="">all</option>${options}</select></label>
<label>Rule <input type="search" id="rule" list="known" placeholder="any"></label>
<datalist id="known">${rules.map(({ rule }) => `<option value="${escapeMarkup(rule)}">`).join('')}</datalist>
<output id="count" aria-live="polite"></output>
</form>
<div class="window" id="window" tabindex="0" aria-label="Packages, a stretch at a time">
<table id="packages"><thead><tr>${['Package', 'Platform', 'State', 'Came', 'Went']
    .map((title, i) => `<th scope="col" aria-sort="none"><button type="button" data-column="${i}">${title}</button></th>`)
    .join('')}</tr></thead><tbody></tbody></table>
</div>
</section>
</main>
<script type="application/json" id="data">${JSON.stringify(data).replaceAll('<', '\\u003c')}</script>
<script>${SCRIPT}</script>`;
  return pageShell('What changed', STYLE, body, "default-src 'none'; style-src 'unsafe-inline'; script-src 'unsafe-inline'");
}

const STYLE = `
:root { color-scheme: light dark; --line: #c3ccd1; --faint: #56666e; --bad: #b3261e; --good: #2e7d32; --warn: #8a5a00; --band: #f2f5f6 }
@media (prefers-color-scheme: dark) { :root { --line: #3b474d; --faint: #9fb0b8; --bad: #ff8a80; --good: #81c995; --warn: #ffcc80; --band: #1d2427 } }
* { box-sizing: border-box }
body { margin: 0 auto; padding: 1.2rem 1.5rem; max-width: 82rem; font: 15px/1.45 system-ui, sans-serif }
h1 { font-size: 1.45rem; margin: 0 } h2 { font-size: 1.05rem; margin: 1.2rem 0 .4rem } header p { color: var(--faint); margin: .1rem 0 .8rem }
dl { display: flex; flex-wrap: wrap; gap: .6rem; margin: 0 } dl div { border: 1px solid var(--line); border-radius: .4rem; padding: .25rem .8rem }
dt { color: var(--faint); font-size: .85rem } dd { margin: 0; font-size: 1.25rem; font-variant-numeric: tabular-nums }
.broke dd, td.broke { color: var(--bad) } .fixed dd, td.fixed { color: var(--good) } .worse dd, td.worse { color: var(--warn) }
table { border-collapse: collapse; width: 100% } th, td { text-align: left; padding: .22rem .6rem; border-bottom: 1px solid var(--line); vertical-align: top }
#rules { width: auto; min-width: 36rem } #rules td, #rules thead th:not(:first-child) { text-align: right; font-variant-numeric: tabular-nums }
th button { all: unset; cursor: pointer; font-weight: 600 } th button:focus-visible, .window:focus-visible { outline: 2px solid Highlight; outline-offset: 2px }
tbody th button { font-weight: 400; text-decoration: underline dotted } .scroll { max-height: 15rem; overflow: auto }
form { display: flex; flex-wrap: wrap; gap: .8rem; align-items: center; margin-bottom: .5rem } input, select { font: inherit; padding: .15rem .3rem } output { color: var(--faint) }
.window { height: 26rem; overflow: auto; border: 1px solid var(--line) } #packages thead th { position: sticky; top: 0; background: var(--band) }
#packages tbody tr { height: 2rem } #packages td, #packages tbody th { white-space: nowrap; overflow: hidden; text-overflow: ellipsis; max-width: 26rem; font-weight: 400 }
th[aria-sort="ascending"] button::after { content: " ▲" } th[aria-sort="descending"] button::after { content: " ▼" }
`;

/** Draws the rows that are in sight, with a row above and one below that stand for all others. */
const SCRIPT = `
const all = JSON.parse(document.getElementById('data').textContent);
const [windowOf, body] = [document.getElementById('window'), document.querySelector('#packages tbody')];
const [search, state, rule, countOf] = ['search', 'state', 'rule', 'count'].map((id) => document.getElementById(id));
const ORDER = ['broke', 'worse', 'fixed', 'better', 'new', 'gone', 'same'];
const ROW = 32, SPARE = 20;
const keys = [(p) => p[0], (p) => p[2], (p) => ORDER.indexOf(p[3]), (p) => p[4].length, (p) => p[5].length];
let sorted = { column: 2, isUp: true }, shown = [];
const tally = (list, sign) => {
  const counts = new Map();
  for (const [id] of list) counts.set(id, (counts.get(id) ?? 0) + 1);
  return [...counts].map(([id, n]) => sign + n + ' ' + id).join(', ');
};
function choose() {
  const text = search.value.toLowerCase(), id = rule.value.trim();
  const isOf = (list) => list.some(([each]) => each.includes(id));
  shown = all.filter((p) => (text === '' || p[0].toLowerCase().includes(text)) && (state.value === '' || p[3] === state.value) && (id === '' || isOf(p[4]) || isOf(p[5])));
  const key = keys[sorted.column], sign = sorted.isUp ? 1 : -1;
  shown.sort((a, b) => { const [x, y] = [key(a), key(b)]; return sign * (x < y ? -1 : x > y ? 1 : 0) || (a[0] < b[0] ? -1 : 1); });
  document.querySelectorAll('#packages thead th').forEach((head, i) => head.setAttribute('aria-sort', i !== sorted.column ? 'none' : sorted.isUp ? 'ascending' : 'descending'));
  countOf.textContent = shown.length === 1 ? '1 package' : shown.length.toLocaleString('en') + ' packages';
  windowOf.scrollTop = 0;
  draw();
}
function space(rows) { const line = document.createElement('tr'); line.style.height = rows * ROW + 'px'; line.setAttribute('aria-hidden', 'true'); return line; }
function draw() {
  const from = Math.max(0, Math.floor(windowOf.scrollTop / ROW) - SPARE);
  const until = Math.min(shown.length, from + Math.ceil(windowOf.clientHeight / ROW) + 2 * SPARE);
  const lines = shown.slice(from, until).map((p) => {
    const line = document.createElement('tr');
    for (const [i, text] of [p[0], p[2], p[3], tally(p[4], '+'), tally(p[5], '−')].entries()) {
      const cell = document.createElement(i === 0 ? 'th' : 'td');
      if (i === 0) cell.scope = 'row';
      if (i === 2) cell.className = p[3];
      cell.textContent = text;
      cell.title = i < 3 ? text : p[i + 1].map(([id, , message]) => id + ': ' + message).join('\\n');
      line.append(cell);
    }
    return line;
  });
  body.replaceChildren(...(from > 0 ? [space(from)] : []), ...lines, ...(until < shown.length ? [space(shown.length - until)] : []));
}
for (const field of [search, state, rule]) field.addEventListener('input', choose);
windowOf.addEventListener('scroll', draw);
document.querySelectorAll('[data-column]').forEach((button) => button.addEventListener('click', () => {
  const column = Number(button.dataset.column);
  sorted = { column, isUp: sorted.column === column ? !sorted.isUp : column < 3 };
  choose();
}));
document.querySelectorAll('[data-rule]').forEach((button) => button.addEventListener('click', () => { rule.value = button.dataset.rule; choose(); rule.scrollIntoView({ block: 'nearest' }); }));
choose();
`;
