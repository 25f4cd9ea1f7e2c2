import type { LanguageName } from './languages.ts';

/** The purpose of a file, as far as its ending shows. */
export type FileKind =
  'markup' | 'stylesheet' | 'script' | 'code' | 'data' | 'prose' | 'picture' | 'font' | 'media' | 'archive' | 'source-map' | 'other';

interface Ending {
  readonly kind: FileKind;
  /** The language that it is written in, or that it begins in. */
  readonly language?: LanguageName;
  /** Whether a file can say something that is not shown or run. */
  readonly hasComments?: boolean;
  /** Whether tools make what is served of it. */
  readonly isSource?: boolean;
  /** Whether its bytes cannot be made fewer. */
  readonly isCompressed?: boolean;
}

const script: Ending = { kind: 'script', language: 'script', hasComments: true };
const scriptSource: Ending = { ...script, isSource: true };
const code: Ending = { kind: 'code', language: 'php', hasComments: true };
const sheetWithLines: Ending = { kind: 'stylesheet', language: 'sheet-with-lines', hasComments: true, isSource: true };
const sheetByIndent: Ending = { ...sheetWithLines, language: 'sheet-by-indent' };
const markup: Ending = { kind: 'markup', language: 'markup', hasComments: true };
const data: Ending = { kind: 'data', hasComments: true };
const lines: Ending = { ...data, language: 'data-lines' };
const settings: Ending = { ...data, language: 'settings' };
const program = (language: LanguageName): Ending => ({ kind: 'code', language, hasComments: true });
const cLike = program('c-like');
const cSnake = program('c-snake');
const shell = program('shell');
const prose: Ending = { kind: 'prose', hasComments: true };
const picture: Ending = { kind: 'picture', isCompressed: true };
const font: Ending = { kind: 'font' };
const packedFont: Ending = { kind: 'font', isCompressed: true };
const media: Ending = { kind: 'media', isCompressed: true };
const archive: Ending = { kind: 'archive', isCompressed: true };

/** The one table of file endings. A platform adds its own: its template files are markup, whatever they end with. */
const ENDINGS: Readonly<Record<string, Ending>> = {
  ...{ html: markup, htm: markup, xhtml: markup },
  ...{ css: { kind: 'stylesheet', language: 'sheet', hasComments: true }, scss: sheetWithLines, less: sheetWithLines },
  ...{ js: script, mjs: script, cjs: script, ts: scriptSource, mts: scriptSource, cts: scriptSource, jsx: scriptSource, tsx: scriptSource },
  ...{ php: code, phtml: code, inc: code },
  ...{
    json: { kind: 'data' },
    csv: { kind: 'data' },
    map: { kind: 'source-map' },
    yaml: lines,
    yml: lines,
    toml: lines,
    ini: lines,
    properties: lines,
    desktop: lines,
    webmanifest: { kind: 'data' },
    ...{ cff: lines, conf: settings, cfg: settings, cnf: settings, htaccess: settings, service: settings, env: settings },
  },
  ...{ theme: lines, po: lines, pot: lines, xml: { ...data, language: 'markup' } },
  ...{ java: cLike, kt: cLike, kts: cLike, scala: cLike, groovy: cLike, gradle: cLike, swift: cLike, dart: cLike, qml: cLike, cs: cLike },
  ...{ go: cLike, c: cSnake, h: cSnake, cc: cSnake, cpp: cSnake, hpp: cSnake, rs: cSnake, vala: cSnake },
  ...{ py: program('python'), pyw: program('python'), rb: program('ruby'), rake: program('ruby'), gemspec: program('ruby') },
  ...{ sh: shell, bash: shell, zsh: shell, fish: shell, ps1: program('powershell'), pl: program('ruby'), r: program('python') },
  ...{ lua: program('lua'), script: cSnake, sql: program('query'), el: program('lisp'), scm: program('lisp'), lisp: program('lisp') },
  ...{ sass: sheetByIndent, styl: sheetByIndent, pcss: sheetWithLines },
  xsl: { ...markup, language: 'xml' },
  ...{ md: prose, rst: prose, txt: prose, adoc: prose, markdown: prose, tex: { ...prose, language: 'tex' } },
  svg: { kind: 'picture', language: 'markup', hasComments: true },
  ...{ png: picture, jpg: picture, jpeg: picture, gif: picture, webp: picture, avif: picture, ico: picture },
  ...{ woff: packedFont, woff2: packedFont, ttf: font, otf: font, eot: font },
  ...{ mp3: media, mp4: media, m4a: media, ogg: media, webm: media },
  ...{ gz: archive, tgz: archive, br: archive, zst: archive, bz2: archive, xz: archive, zip: archive, '7z': archive },
};

const OTHER: Ending = { kind: 'other' };

/** Documents for readers that have no ending: README, INSTALL, THANKS. */
const READER = /(^|\/)[A-Z][A-Z0-9_-]+$/;

/** Recipes of tools, which have no ending either. */
const RECIPE = /(^|\/)(?:GNUm|M|m)akefile$|(^|\/)(?:Dockerfile|Containerfile|Procfile|Justfile|Gemfile|Rakefile)$/;

/** The last answer: rules and judges ask again and again about the file at hand. */
let last: { readonly path: string; readonly ending: Ending } | undefined;

/** The kind that the ending of a path shows. */
export function endingOf(path: string): Ending {
  if (last?.path !== path) last = { path, ending: readEnding(path) };
  return last.ending;
}

function readEnding(path: string): Ending {
  if (READER.test(path)) return prose;
  if (RECIPE.test(path)) return settings;
  const ending = /\.(\w+)$/.exec(path)?.[1]?.toLowerCase() ?? '';
  return (Object.hasOwn(ENDINGS, ending) ? ENDINGS[ending] : undefined) ?? OTHER;
}

const THIRD_PARTY_FOLDER = /(^|\/)(vendor|vendors|third[-_]party|external|node_modules)\//i;

/** Whether a file is plainly someone else's, or was made by a tool from another: nobody fixes it by hand. */
export function isThirdParty(path: string): boolean {
  return THIRD_PARTY_FOLDER.test(path) || /[.-]min\.\w+$/i.test(path);
}

/** Whether a path lies in a folder of other people's code. */
export function isInThirdPartyFolder(path: string): boolean {
  return THIRD_PARTY_FOLDER.test(path);
}

/** The kind of a file by its path alone. */
export function kindOfPath(path: string): FileKind {
  return endingOf(path).kind;
}
