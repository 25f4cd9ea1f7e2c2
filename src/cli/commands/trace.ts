import { noTemplatesText } from '../output/platform-text.ts';
import { flag, text } from '../option.ts';
import { RefusedError, UsageError } from '../../core/errors.ts';
import { explainTrace } from '../../core/lineage/explain.ts';
import { traceTheme, type Trace } from '../../core/lineage/trace.ts';
import { nearest } from '../../core/text/nearest.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import { defineCommand, type Context } from '../command.ts';
import { ExitStatus } from '../exit-status.ts';
import { explanationText, traceCounts, traceText } from '../output/trace-text.ts';
import { tracePage } from '../output/trace-page.ts';
import { writePage } from '../write-page.ts';
import { warnUnrecognised } from '../lineage-context.ts';
import { openSource, themeFirst } from '../theme-argument.ts';
import { didYouMean } from '../../core/text/sentence.ts';

export default defineCommand({
  arguments: [
    { form: '[theme]', about: 'a theme’s folder, its archive, or its id on a shelf; default: the current folder' },
    { form: '[file]', about: 'one file by its path, or a page role: how the host comes to it, step by step' },
  ],
  options: {
    out: text('FILE.html', 'write one page to read in a browser, with filters and a search'),
    yes: flag('do not ask before a page is written over'),
  },
  examples: [
    'pionero trace lumbre',
    'pionero trace lumbre front',
    'pionero trace lumbre partials/header.html',
    'pionero trace lumbre --out trace.html',
  ],
  async run(context, args, options) {
    const { theme: argument, rest } = themeFirst(args, context);
    const [wanted, ...more] = rest;
    if (more.length > 0) throw new UsageError({ what: `one file or page at a time, not ${rest.join(' and ')}` });
    const opened = await openSource(argument, context, { isLenient: true });
    const trace = traceTheme(opened.chain);
    warnUnrecognised(context, opened);
    warnOfTwins(context, opened);
    if (wanted !== undefined) return explain(context, opened, trace, wanted);
    if (options.out !== undefined) return tellPage(context, trace, options.out, options);
    context.say(
      `${traceText(trace, context.paint, context.options.verbose)}\n\n${traceCounts(trace)}${noTemplatesText(opened.theme.platform, context.paint)}`,
    );
    sayBroken(context, trace);
    context.result(traceJson(trace));
    return ExitStatus.ok;
  },
});

/** Two themes of one id on two shelves: the first is taken, and who meant the other wonders. */
function warnOfTwins(context: Context, { chain, shelves }: OpenedTheme): void {
  for (const theme of chain.themes.slice(1)) {
    const { place } = theme;
    for (const other of place === undefined ? [] : shelves.passedOver(place))
      context.warn(
        `${context.paint.warn('▲')} ${theme.names.id} is on two shelves: ${context.shown(place ?? '')} is taken, ${context.shown(other)} is not.`,
      );
  }
}

function sayBroken(context: Context, { broken }: Trace): void {
  if (broken === undefined) return;
  const { paint } = context;
  const why = {
    missing: `the parent “${broken.id}” is on no shelf: what it serves is not shown`,
    circle: `“${broken.id}” builds on itself, by way of others`,
    commons: `the shared files “${broken.id}” are on no shelf: what they serve is not shown`,
  }[broken.kind];
  context.say(`\n${paint.warn('▲')} ${why.charAt(0).toUpperCase()}${why.slice(1)}.`);
}

function explain(context: Context, { theme, chain }: OpenedTheme, trace: Trace, wanted: string): ExitStatus {
  const path = wanted.replace(/^\.\//, '');
  const explanation = explainTrace(chain, path);
  const isKnown = explanation.steps.some(({ found }) => found !== 'not-there');
  const roles = trace.roles.map(({ role }) => role);
  if (!isKnown && !roles.includes(path)) {
    const near = nearest(path, [...roles, ...trace.files.map((file) => file.path)]);
    throw new RefusedError({
      what: `no theme of the chain of ${theme.names.id} has a file or a page “${wanted}”`,
      hint: didYouMean(near, `pages: ${roles.join(', ')}`),
    });
  }
  context.say(explanationText(path, explanation, trace.layers, context.paint));
  sayBroken(context, trace);
  context.result({
    wanted: path,
    served: explanation.isServed,
    steps: explanation.steps.map(({ layer, ...step }) => ({ ...step, theme: trace.layers[layer]?.id ?? null })),
  });
  return explanation.isServed ? ExitStatus.ok : ExitStatus.findings;
}

async function tellPage(context: Context, trace: Trace, out: string, options: { readonly yes: boolean }): Promise<ExitStatus> {
  const file = await writePage(context, out, options, () => tracePage(trace));
  if (file === undefined) return ExitStatus.ok;
  context.say(`${context.paint.good('✓')} ${context.shown(file)}: ${traceCounts(trace)}`);
  sayBroken(context, trace);
  context.result({ file, applied: true });
  return ExitStatus.ok;
}

/** A trace with ids in the place of numbers. */
function traceJson({ layers, broken, roles, files, sheets, regions }: Trace): Record<string, unknown> {
  const id = (layer: number | undefined): string | null => (layer === undefined ? null : (layers[layer]?.id ?? null));
  return {
    chain: layers.map(({ id: name, title, version, kind, location }) => ({
      id: name,
      title: title ?? null,
      version: version ?? null,
      kind,
      location: location ?? null,
    })),
    broken: broken === undefined ? null : { kind: broken.kind, id: broken.id, of: broken.of.names.id },
    pages: roles.map(({ role, path, from, asked }) => ({ role, template: path ?? null, from: id(from), asked })),
    files: files.map(({ path, kind, from, shadows, taken }) => ({
      path,
      kind,
      from: id(from),
      shadows: shadows.map(id),
      taken: taken ?? null,
    })),
    sheets: sheets.map(({ from, path }) => ({ path, from: id(from) })),
    regions: regions.map(({ name, declared, printed }) => ({
      name,
      declaredBy: id(declared),
      printed: printed.map(({ from, path, line }) => ({ file: path, line, from: id(from) })),
    })),
  };
}
