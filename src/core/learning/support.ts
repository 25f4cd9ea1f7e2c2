import { keyPath } from '../theme/documents.ts';
import { Shelves } from '../theme/shelf.ts';
import type { Theme } from '../theme/theme.ts';
import { matchesAny } from '../files/glob.ts';
import { fillShape, shapePattern } from '../names/shape.ts';
import type { Platform } from '../platform/platform.ts';
import type { Finding } from '../rules/engine/check.ts';
import { problemAtPath } from '../configuration/read-configuration.ts';
import { withEndings } from '../templates/template-index.ts';
import { isKey } from './loosen.ts';
import { judgeTheme, type RefusedTheme } from './fit.ts';
import { ThemeSet, type SampleTheme } from './theme-set.ts';

/** How many themes a line of a platform file is true of, of those that it could speak of. */
export interface LineSupport {
  /** Counts from 1. */
  readonly line: number;
  /** The subject of the line, for people. */
  readonly what: string;
  /** Themes that have what it speaks of. */
  readonly count: number;
  readonly of: number;
  /** The themes that it refuses. */
  readonly refuses: readonly string[];
}

/** A platform file as it was measured on themes. */
export interface MeasuredPlatform {
  readonly lines: readonly LineSupport[];
  readonly refused: readonly RefusedTheme[];
}

type Path = readonly (string | number)[];

/** A line that can be counted: where it is in the file, whether a theme has what it speaks of, and which findings are its own. */
interface Countable {
  readonly path: Path;
  readonly what: string;
  /** Whether a theme could have it at all; any, when left out. */
  concerns?(theme: Theme): boolean;
  has(theme: Theme): boolean;
  isBlamed?(finding: Finding, theme: Theme): boolean;
}

/** Counts for each line of a platform file, learned or written by hand, the themes that have what it speaks of, and those that it refuses. */
export function measurePlatform(platform: Platform, samples: readonly SampleTheme[], folders: readonly string[]): MeasuredPlatform {
  const shelves = new Shelves(platform, folders);
  const judged = new ThemeSet(samples).themes.map((sample) => judgeTheme(sample, shelves));
  const lines = [...countablesOf(platform)].map((line) => {
    const concerned = judged.filter(({ theme }) => line.concerns?.(theme) !== false);
    return {
      line: problemAtPath(platform.source, line.path, line.what).line,
      what: line.what,
      count: concerned.filter(({ theme }) => line.has(theme)).length,
      of: concerned.length,
      refuses: concerned.filter(({ theme, findings }) => findings.some((finding) => line.isBlamed?.(finding, theme))).map(({ id }) => id),
    };
  });
  const refused = judged.filter(({ missing, findings }) => missing !== undefined || findings.length > 0);
  return { lines: lines.sort((a, b) => a.line - b.line), refused };
}

function* countablesOf({ contract }: Platform): Generator<Countable> {
  for (const [i, document] of contract.documents.entries()) {
    const at: Path = ['documents', i];
    const own = (theme: Theme) => theme.documents.filter(({ declared, state }) => declared === document && state !== 'missing');
    const title = document.title ?? document.path;
    yield {
      path: at,
      what: title,
      has: (theme) => own(theme).length > 0,
      isBlamed: ({ rule, file }, theme) => rule.startsWith('document/') && file === fillShape(document.path, theme.names),
    };
    for (const [j, field] of document.fields.entries()) {
      const key = keyPath(field).join('.');
      yield {
        path: [...at, 'fields', j],
        what: `${title}: ${key}`,
        concerns: (theme) => own(theme).length > 0,
        has: (theme) => theme.facts.some((fact) => fact.field.fact === field.fact && own(theme).includes(fact.document)),
        isBlamed: ({ rule, args }) =>
          /^(?:field|id|parent)\//.test(rule) &&
          (isKey(keyPath(field), String(args['key'])) || (rule === 'parent/missing' && field.fact === contract.inheritance.fact)),
      };
    }
  }
  for (const [i, { path, forbidden }] of contract.files.entries()) {
    if (forbidden) continue;
    yield {
      path: ['files', i],
      what: path,
      has: (theme) => theme.tree.entries.some((entry) => matchesAny(entry.path, [fillShape(path, theme.names)])),
      isBlamed: ({ rule, args }, theme) =>
        rule === 'file/missing' && String(args['path']).split(' or ').includes(fillShape(path, theme.names)),
    };
  }
  for (const [i, { path, role }] of contract.images.entries())
    yield {
      path: ['images', i],
      what: path,
      has: (theme) => theme.tree.get(fillShape(path, theme.names)) !== undefined,
      isBlamed: ({ rule, args }) => rule.startsWith('image/') && args['role'] === role,
    };
  yield* templateLines(contract);
}

function* templateLines({ templates }: Platform['contract']): Generator<Countable> {
  if (templates === undefined) return;
  const isTemplate = (path: string): boolean => matchesAny(path, templates.files);
  for (const [i, glob] of templates.files.entries())
    yield { path: ['templates', 'files', i], what: glob, has: ({ tree }) => tree.entries.some(({ path }) => matchesAny(path, [glob])) };
  for (const [role, { file }] of Object.entries(templates.roles))
    yield {
      path: ['templates', 'roles', role],
      what: `page ${role}`,
      has: ({ tree, names }) => withEndings(templates, fillShape(file, names)).some((path) => tree.get(path) !== undefined),
      isBlamed: ({ rule, args }) => rule === 'template/role' && args['role'] === role,
    };
  const { language } = templates;
  if (typeof language !== 'object') return;
  for (const kind of ['include', 'extend'] as const)
    for (const [i, shape] of language[kind].entries()) {
      const pattern = shapePattern(shape);
      yield {
        path: ['templates', 'language', kind, i],
        what: shape,
        has: (theme) =>
          theme.tree.entries.some(
            ({ path, kind: entry }) => entry === 'file' && isTemplate(path) && new RegExp(pattern).test(theme.source(path)?.text ?? ''),
          ),
      };
    }
}
