import type { Explanation, TraceStep } from '../../core/lineage/explain.ts';
import type { Layer, Trace, TracedFile, TracedKind } from '../../core/lineage/trace.ts';
import { type Paint } from './paint.ts';
import { count, plural } from '../../core/text/sentence.ts';

/** The words for the kinds, in the order in which they are listed. */
const TITLES: Readonly<Record<TracedKind, string>> = {
  page: 'Templates of pages',
  partial: 'Partials',
  stylesheet: 'Stylesheets',
  script: 'Scripts',
  picture: 'Pictures',
  font: 'Fonts',
  texts: 'Texts',
  document: 'Documents',
  other: 'Other files',
};

export function titleOfKind(kind: TracedKind): string {
  return TITLES[kind];
}

/** The chain in one line: the theme, what it builds on, what the host brings. */
export function chainText({ layers, broken }: Trace, paint: Paint): string {
  const shown = layers.map((layer) => `${paint.strong(layer.id)}${noteOf(layer, paint)}`);
  const missing = broken?.kind === 'missing' ? [`${paint.bad(broken.id)} ${paint.bad('(not here)')}`] : [];
  return [...shown, ...missing].join(paint.faint(' → '));
}

function noteOf({ kind, version }: Layer, paint: Paint): string {
  const note = [version, kind === 'built-in' ? '(comes with the host)' : kind === 'commons' ? '(shared files)' : undefined];
  const said = note.filter((each) => each !== undefined).join(' ');
  return said === '' ? '' : ` ${paint.faint(said)}`;
}

/** A trace as a tree: pages, then files by what they are for; what is only inherited is counted unless all is wanted. */
export function traceText(trace: Trace, paint: Paint, isWhole: boolean): string {
  const { layers, roles, files, sheets, regions } = trace;
  const name = (layer: number | undefined): string => (layer === undefined ? '' : (layers[layer]?.id ?? ''));
  const coloured = (layer: number | undefined): string => (layer === 0 ? paint.good(name(layer)) : paint.name(name(layer)));
  const lines: string[] = [chainText(trace, paint)];
  const section = (title: string, rows: readonly string[]): void => {
    if (rows.length > 0) lines.push('', paint.strong(title), ...rows.map((row) => `  ${row.trimEnd()}`));
  };
  const width = (texts: readonly string[]): number => Math.min(44, Math.max(0, ...texts.map((text) => text.length)));
  const ids = width(layers.map(({ id }) => id));
  const pad = (layer: number | undefined): string => coloured(layer) + ' '.repeat(Math.max(0, ids - name(layer).length));
  const [roleWidth, pathWidth] = [width(roles.map(({ role }) => role)), width(roles.map(({ path = '' }) => path))];
  section(
    'Pages',
    roles.map(({ role, path, from, asked }) => {
      if (path === undefined) return `${role.padEnd(roleWidth)}  ${paint.faint('nothing serves it')}`;
      const fallback = asked.length > 1 ? `  ${paint.faint(`no ${asked.slice(0, -1).join(', no ')}`)}` : '';
      return `${role.padEnd(roleWidth)}  ${path.padEnd(pathWidth)}  ${pad(from)}${shadowText(
        files.find((file) => file.path === path),
        name,
        paint,
      )}${fallback}`;
    }),
  );
  section(
    'Stylesheets, in the order in which they load',
    sheets.map(({ from, path }, i) => `${String(i + 1).padStart(2)}  ${path.padEnd(pathWidth)}  ${coloured(from)}`),
  );
  section(
    'Regions',
    regions.map(({ name: region, declared, printed }) => {
      const where = printed.map(({ from, path, line }) => `${path}:${line} (${name(from)})`).join(', ');
      const by = declared === undefined ? paint.faint('offered by the host') : `declared by ${coloured(declared)}`;
      return `${paint.name(region.padEnd(width(regions.map((each) => each.name))))}  ${by}, ${where === '' ? paint.warn('printed nowhere') : `printed in ${where}`}`;
    }),
  );
  const pages = new Set(roles.map(({ path }) => path));
  for (const [kind, title] of Object.entries(TITLES) as [TracedKind, string][]) {
    const own = files.filter((file) => file.kind === kind && !pages.has(file.path));
    const shown = isWhole ? own : own.filter(({ from, shadows }) => from === 0 || shadows.length > 0);
    const rows = shown.map(
      (file) => `${file.path.padEnd(width(shown.map(({ path }) => path)))}  ${pad(file.from)}${shadowText(file, name, paint)}`,
    );
    const rest = restText(
      own.filter((file) => !shown.includes(file)),
      name,
    );
    section(title, rest === '' ? rows : [...rows, paint.faint(`${rows.length === 0 ? '' : 'and '}${rest}`)]);
  }
  return lines.join('\n');
}

/** “over albar’s, taken from 2.0.0”: what a file takes the place of. */
function shadowText(file: TracedFile | undefined, name: (layer: number) => string, paint: Paint): string {
  if (file === undefined) return '';
  const over = file.shadows.length === 0 ? '' : `  over ${file.shadows.map((layer) => `${name(layer)}’s`).join(' and ')}`;
  const taken =
    file.taken === undefined ? '' : `${over === '' ? '  ' : ', '}copied from ${file.taken.theme} ${file.taken.version ?? ''}`.trimEnd();
  return paint.faint(over + taken);
}

/** “12 of albar, 3 of ground”. */
function restText(files: readonly TracedFile[], name: (layer: number) => string): string {
  const counts = new Map<number, number>();
  for (const { from } of files) counts.set(from, (counts.get(from) ?? 0) + 1);
  const parts = [...counts].map(([layer, number]) => `${number} of ${name(layer)}`);
  return parts.length === 0 ? '' : `${parts.join(', ')} ${plural(files.length, 'is', 'are')} inherited (--verbose lists them)`;
}

const FOUND: Readonly<Record<TraceStep['found'], string>> = {
  taken: 'here: this one is taken',
  shadowed: 'here too, and not asked',
  'not-there': 'not there',
  'not-inherited': 'here, but such files are not inherited',
  brought: 'comes with the host',
  made: 'made of',
};

/** How the host comes to one file, step by step. */
export function explanationText(wanted: string, { steps, isServed }: Explanation, layers: readonly Layer[], paint: Paint): string {
  const lines = [`${isServed ? paint.good('✓') : paint.bad('✗')} ${paint.strong(wanted)}: ${isServed ? 'served' : 'nothing serves it'}`];
  let at: string | undefined;
  for (const { role, path, layer, found, by } of steps) {
    const head = role === undefined ? path : `${role}: ${path}`;
    if (head !== at) lines.push('', `  ${paint.strong(head)}`);
    at = head;
    const mark = found === 'taken' || found === 'brought' || found === 'made' ? paint.good('●') : paint.faint('○');
    const said = found === 'made' ? `${FOUND.made} ${by ?? ''}` : FOUND[found];
    lines.push(
      `    ${mark} ${(layers[layer]?.id ?? '').padEnd(Math.max(...layers.map(({ id }) => id.length)))}  ${mark === paint.good('●') ? said : paint.faint(said)}`,
    );
  }
  return lines.join('\n');
}

/** How many files of the chain are the theme’s own, inherited, and take another’s place. */
export function traceCounts({ files }: Trace): string {
  const own = files.filter(({ from }) => from === 0);
  const over = own.filter(({ shadows }) => shadows.length > 0).length;
  return `${count(own.length, 'file')} of its own, ${over} of them in the place of a parent’s; ${files.length - own.length} inherited`;
}
