import { baseOf, compareText, folderOf, resolveInTree, withoutEnding } from '../files/file-tree.ts';
import { matchesGlob } from '../files/glob.ts';
import { shapePattern } from '../names/shape.ts';
import { endingOf, isInThirdPartyFolder, kindOfPath } from '../text/file-kinds.ts';
import { ANY_TEXT } from '../templates/described.ts';
import type { LearnedLanguage, LearnedTemplates, Seen } from './learned.ts';
import { CALL, FAMILIES, type Family } from './template-signs.ts';
import { globOf, ThemeSet, type SampleTheme } from './theme-set.ts';

/** A template of one theme. */
interface Template {
  readonly theme: SampleTheme;
  readonly path: string;
  readonly text: string;
}

/** A text that names a template of the theme: by which shape, and how the name leads there. */
interface Taken {
  readonly theme: SampleTheme;
  readonly shape: string;
  readonly from: string;
  readonly name: string;
  /** The file; undefined where the name leads to none. */
  readonly file: string | undefined;
}

const COMMON = 0.3;
/** A template larger than this is data, in characters. */
const LARGEST = 128 * 1024;
const SCRIPTS: ReadonlySet<string> = new Set(['js', 'mjs', 'cjs', 'ts', 'jsx', 'tsx', 'css', 'json', 'svg']);

/** How the templates of a set are written: their files, the tags of their language, the pages; undefined where there are none. @param parents themes of the host's own */
export function learnTemplates(set: ThemeSet, parents: readonly string[] = []): LearnedTemplates | undefined {
  const all = templatesIn(set);
  const globs = globsOf(set, all);
  if (globs.length === 0) return undefined;
  const templates = all.filter(({ path }) => globs.some(({ glob }) => matchesGlob(path, glob)));
  const byEnding = [...grouped(templates, ({ path }) => lastEnding(path))].sort(
    ([, x], [, y]) => themesOf(y) - themesOf(x) || y.length - x.length,
  );
  const learned = byEnding.map(([ending, own]) => ({ ending, count: themesOf(own), ...learnLanguage(set, own, parents) }));
  const [main, ...others] = learned;
  if (main === undefined) return undefined;
  const led = learned.flatMap((each) => each.led);
  const partials = partialsOf(led);
  return {
    files: globs,
    endings:
      partials === undefined || partials.file.endsWith('{path}')
        ? []
        : byEnding.map(([ending]) => ending).filter((each) => /^\w+$/.test(each)),
    language: main.language,
    languages: others.flatMap(({ ending, language, count }) =>
      count > 1 && ending !== '' ? [{ files: `**/*.${ending}`, language, seen: { count, of: set.size } }] : [],
    ),
    namesTheme: learned.reduce((sum, { naming }) => sum + naming, 0) > 1,
    roles: rolesOf(set, templates, led),
    partials,
  };
}

function lastEnding(path: string): string {
  const base = baseOf(path);
  return base.includes('.') ? base.slice(base.lastIndexOf('.') + 1) : '';
}

function themesOf(templates: readonly Template[]): number {
  return new Set(templates.map(({ theme }) => theme)).size;
}

function grouped<T>(all: readonly T[], by: (each: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const each of all) {
    const group = groups.get(by(each));
    if (group === undefined) groups.set(by(each), [each]);
    else group.push(each);
  }
  return groups;
}

/** The language of templates of one ending, and what they take in by its tags. */
function learnLanguage(
  set: ThemeSet,
  templates: readonly Template[],
  parents: readonly string[],
): { language: LearnedLanguage; led: Taken[]; naming: number } {
  const family = familyOf(templates);
  const taken = templates.flatMap((template) => takenBy(template, family));
  const shapes = trusted(set, taken);
  const extend = shapes.filter(({ shape }) => /\bextends?\b|\blayout\b|\binherit\b/.test(shape));
  const language: LearnedLanguage = {
    like: likeOf(templates),
    sections: family === undefined ? [] : sectionsOf(templates, family),
    include: shapes.filter((each) => !extend.includes(each)),
    extend,
    comment: seenIn(templates, family?.comment),
    print: seenIn(templates, family?.print),
  };
  const naming = taken.filter(({ name, file }) => file === undefined && namesTheme(set, name, parents)).length;
  return { language, naming, led: taken.filter(({ shape, file }) => file !== undefined && shapes.some((each) => each.shape === shape)) };
}

/** A shape, where a template has such a tag. */
function seenIn(templates: readonly Template[], shape: string | undefined): string[] {
  if (shape === undefined) return [];
  const begins = shapePattern(shape.split(ANY_TEXT)[0] ?? '', {}, '');
  return templates.some(({ text }) => begins.test(text)) ? [shape] : [];
}

/** `albar/frame.html`: a theme of the set and a file of it, or a theme of the host's own and a file that it may have. */
function namesTheme({ themes }: ThemeSet, name: string, parents: readonly string[]): boolean {
  const at = name.indexOf('/');
  const named = themes.find(({ id }) => at > 0 && id === name.slice(0, at));
  if (parents.includes(name.slice(0, Math.max(0, at)))) return /\.\w+$/.test(name);
  return named?.tree.get(name.slice(at + 1))?.kind === 'file';
}

/** Files of markup, and those beside them that end alike: a piece may hold nothing but a value. */
function templatesIn(set: ThemeSet): Template[] {
  const all = set.themes.flatMap((theme) =>
    theme.tree.entries.flatMap(({ path, kind }) => {
      if (kind !== 'file' || isInThirdPartyFolder(path) || !canBeTemplate(path)) return [];
      const text = set.text(theme, path, LARGEST);
      return text === undefined ? [] : [{ theme, path, text }];
    }),
  );
  const endings = new Set(all.filter(({ path, text }) => isMarkup(path, text)).map(({ path }) => lastEnding(path)));
  return all.filter(
    ({ path, text }) => isMarkup(path, text) || (endings.has(lastEnding(path)) && lastEnding(path) !== '' && kindOfPath(path) === 'other'),
  );
}

function canBeTemplate(path: string): boolean {
  const ending = path.slice(path.lastIndexOf('.') + 1).toLowerCase();
  return ['markup', 'other', 'code'].includes(kindOfPath(path)) && !SCRIPTS.has(ending) && !/^(?:docs?|tests?|examples?)\//.test(path);
}

/** Whether a file is markup: by its ending, or by what it holds where the ending is unknown or code’s. */
function isMarkup(path: string, text: string): boolean {
  const { kind } = endingOf(path);
  if (kind === 'markup') return true;
  if (kind === 'code') return /^\s*<(?!\?)/.test(text);
  return /<\/?[a-z][^>]*>/i.test(text) && FAMILIES.some(({ seen }) => seen.test(text) || /<%|\{\{/.test(text));
}

/** Where templates are in most themes. */
function globsOf(set: ThemeSet, templates: readonly Template[]): { glob: string; seen: Seen }[] {
  const themes = new Map<string, Set<SampleTheme>>();
  for (const { theme, path } of templates) themes.set(globOf(path), (themes.get(globOf(path)) ?? new Set()).add(theme));
  const all = [...themes].map(([glob, having]) => ({ glob, seen: { count: having.size, of: set.size } }));
  const common = all.filter(({ seen }) => seen.count >= COMMON * set.size);
  // Where most have their templates, some have them in another language.
  const spread = spreadEndings(
    templates,
    common.map(({ glob }) => glob),
    COMMON * set.size,
  );
  if (spread.length > 0)
    return [
      ...spread.map(({ glob, count }) => ({ glob, seen: { count, of: set.size } })),
      ...common.filter(({ glob }) => !spread.some((each) => glob.endsWith(each.ending))),
    ];
  const folders = new Set(common.flatMap(({ glob }) => (glob.includes('/') ? [glob.split('/', 1)[0]] : [])));
  return all
    .filter((each) => common.includes(each) || (each.seen.count > 1 && folders.has(each.glob.split('/', 1)[0])))
    .sort((a, b) => b.seen.count - a.seen.count || compareText(a.glob, b.glob));
}

/** Endings of templates that many themes have in folders of their own: such a template may lie anywhere. */
function spreadEndings(
  templates: readonly Template[],
  globs: readonly string[],
  fewest: number,
): { glob: string; ending: string; count: number }[] {
  return [...grouped(templates, ({ path }) => lastEnding(path))].flatMap(([ending, own]) => {
    const outside = own.filter(({ path }) => !globs.includes(globOf(path)));
    const isSpread = themesOf(outside) > Math.max(2, themesOf(own) / 10) && themesOf(own) >= fewest && ending !== '';
    return isSpread ? [{ glob: `**/*.${ending}`, ending: `.${ending}`, count: themesOf(own) }] : [];
  });
}

/** The family whose tags most templates have. */
function familyOf(templates: readonly Template[]): Family | undefined {
  const counts = FAMILIES.map((family) => ({ family, count: templates.filter(({ text }) => family.seen.test(text)).length }));
  const [first] = counts.sort((a, b) => b.count - a.count);
  return first !== undefined && first.count >= Math.max(2, templates.length * 0.1) ? first.family : undefined;
}

/** A language that many hosts share, where its own signs are in most templates. */
function likeOf(templates: readonly Template[]): string | undefined {
  const share = (seen: RegExp): number => templates.filter(({ text }) => seen.test(text)).length / templates.length;
  if (share(/<%[-=_#]?\s/) > 0.4) return 'ejs';
  if (share(/\{\{[#^>/]/) > 0.2 && share(/\{%/) < 0.1) return 'mustache';
  if (share(/\{%-?\s*(?:render|assign|schema|capture|section)\b/) > 0.2) return 'liquid';
  return share(/\{%-?\s*(?:extends|block|include|import|macro|set)\b/) > 0.3 ? 'jinja' : undefined;
}

/** Words that open what others close, in nearly all templates as often. */
function sectionsOf(templates: readonly Template[], { opens, closes, open, close }: Family): LearnedLanguage['sections'] {
  const words = new Map<string, { templates: number; balanced: number }>();
  for (const { text } of templates) {
    const counts = new Map<string, number>();
    const closed = new Set<string>();
    for (const [, word = ''] of text.matchAll(opens)) counts.set(word, (counts.get(word) ?? 0) + 1);
    for (const [, word = ''] of text.matchAll(closes)) {
      counts.set(word, (counts.get(word) ?? 0) - 1);
      closed.add(word);
    }
    for (const [word, left] of counts) {
      const known = words.get(word) ?? { templates: 0, balanced: 0 };
      known.templates += 1;
      if (left === 0 && closed.has(word)) known.balanced += 1;
      words.set(word, known);
    }
  }
  return [...words]
    .filter(([, { templates: all, balanced }]) => all > 1 && balanced >= all * 0.97)
    .map(([word, { templates: of, balanced: count }]) => ({ opens: open(word), closes: close(word), seen: { count, of } }))
    .sort((a, b) => b.seen.of - a.seen.of || compareText(a.opens, b.opens))
    .slice(0, 30);
}

const MUSTACHE_PARTIAL = /\{\{>\s*([\w./-]+)\s*\}\}/g;

/** Every tag and call with a name between quotes. */
function takenBy({ theme, path, text }: Template, family: Family | undefined): Taken[] {
  const tags =
    family === undefined
      ? []
      : [...text.matchAll(family.named)].map((match) => ({ match, shape: family.take(match[1] ?? '', match[4] ?? '') }));
  const calls = [...text.matchAll(CALL)].map((match) => ({ match, shape: `${match[1]}("{path}"${match[4]}` }));
  const plain = [...text.matchAll(MUSTACHE_PARTIAL)].map((match) => ({ match, shape: '{{> {path} }}' }));
  return [...tags, ...calls, ...plain].flatMap(({ match, shape }) => {
    const name = match[3] ?? match[1] ?? '';
    return /\s|:|^\/?$/.test(name) ? [] : [{ theme, shape, from: path, name, file: fileOf(name, path, theme) }];
  });
}

/** The template that a name means: from the theme, from the including file, or anywhere with another ending. */
function fileOf(name: string, from: string, { tree }: SampleTheme): string | undefined {
  const plain = name.replace(/^\.?\//, '');
  const direct = [plain, resolveInTree(folderOf(from), name)];
  const found = direct.find((each): each is string => each !== undefined && tree.get(each)?.kind === 'file');
  if (found !== undefined) return canBeTemplate(found) ? found : undefined;
  const beside = resolveInTree(folderOf(from), plain) ?? plain;
  const ends = (path: string): boolean =>
    withoutEnding(path) === beside || `/${withoutEnding(path)}`.endsWith(`/${plain}`) || `/${path}`.endsWith(`/${plain}`);
  return tree.entries.find(({ path, kind }) => kind === 'file' && canBeTemplate(path) && ends(path))?.path;
}

/** Shapes whose names nearly always lead to templates: the others take something else. */
function trusted(set: ThemeSet, taken: readonly Taken[]): { shape: string; seen: Seen }[] {
  const byShape = grouped(taken, ({ shape }) => shape);
  return [...byShape]
    .flatMap(([shape, uses]) => {
      const led = uses.filter(({ file }) => file !== undefined).length;
      const themes = new Set(uses.map(({ theme }) => theme)).size;
      const isCommon = themes >= Math.min(2, set.size) && (uses.length > 1 || set.size === 1);
      return isCommon && led >= uses.length * 0.7 ? [{ shape, seen: { count: led, of: uses.length } }] : [];
    })
    .sort((a, b) => b.seen.of - a.seen.of || compareText(a.shape, b.shape));
}

/** Where an included template lies, by how most names lead there. */
function partialsOf(led: readonly Taken[]): LearnedTemplates['partials'] {
  const counts = new Map<string, { count: number; example: string }>();
  let relative = 0;
  for (const { name, file = '', from } of led) {
    const plain = name.replace(/^\.?\//, '');
    const at = `/${file}`.lastIndexOf(`/${plain}`);
    const beside = resolveInTree(folderOf(from), name);
    const isBeside = folderOf(from) !== '' && (beside === file || (beside !== undefined && withoutEnding(file) === beside));
    if (isBeside) relative += 1;
    if (at < 0) continue;
    const shape = `${file.slice(0, at)}{path}${file.slice(at + plain.length)}`;
    const known = counts.get(shape) ?? { count: 0, example: `${from} takes ${file}` };
    counts.set(shape, { ...known, count: known.count + 1 });
  }
  const [best] = [...counts].sort(([a, x], [b, y]) => y.count - x.count || compareText(a, b));
  if (best === undefined) return undefined;
  const [file, { count, example }] = best;
  return { file, relative: relative > led.length * 0.1 ? 'first' : 'never', seen: { count, of: led.length }, example };
}

/** Pages: templates that nearly all themes have, and that nothing includes. */
function rolesOf(set: ThemeSet, templates: readonly Template[], led: readonly Taken[]): LearnedTemplates['roles'] {
  const included = new Set(led.map(({ theme, file }) => `${theme.id}\0${file}`));
  const having = new Map<string, number>();
  for (const { theme, path } of templates) {
    const isPiece = /(?:^|\/)[_.]|partial|include|block|piece|part|fragment|macro|component/i.test(path);
    if (!isPiece && !included.has(`${theme.id}\0${path}`)) having.set(path, (having.get(path) ?? 0) + 1);
  }
  const names = new Set<string>();
  return [...having]
    .filter(([, count]) => ThemeSet.isNeeded(count, set.size))
    .sort(([a, x], [b, y]) => y - x || compareText(a, b))
    .slice(0, 20)
    .flatMap(([file, count]) => {
      const role = baseOf(file)
        .replace(/\..*$/, '')
        .replace(/[^A-Za-z0-9-]+/g, '-')
        .toLowerCase();
      if (names.has(role) || role === '') return [];
      names.add(role);
      return [{ role, file, seen: { count, of: set.size } }];
    });
}
