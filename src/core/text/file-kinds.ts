/** What a file is for, as far as its ending tells. */
export type FileKind =
  'markup' | 'stylesheet' | 'script' | 'code' | 'data' | 'prose' | 'picture' | 'font' | 'media' | 'archive' | 'source-map' | 'other';

/** How a language marks its comments and strings: see zones.ts. */
export type LexisName = 'script' | 'php' | 'sheet' | 'sheet-with-lines' | 'markup';

interface Ending {
  readonly kind: FileKind;
  readonly lexis?: LexisName;
  /** Whether a file can say something that is not shown or run. */
  readonly hasComments?: boolean;
  /** Whether tools make what is served of it. */
  readonly isSource?: boolean;
  /** Whether its bytes cannot be made fewer. */
  readonly isCompressed?: boolean;
}

const script: Ending = { kind: 'script', lexis: 'script', hasComments: true };
const scriptSource: Ending = { ...script, isSource: true };
const code: Ending = { kind: 'code', lexis: 'php', hasComments: true };
const sheetWithLines: Ending = { kind: 'stylesheet', lexis: 'sheet-with-lines', hasComments: true, isSource: true };
const markup: Ending = { kind: 'markup', lexis: 'markup', hasComments: true };
const data: Ending = { kind: 'data', hasComments: true };
const prose: Ending = { kind: 'prose', hasComments: true };
const picture: Ending = { kind: 'picture', isCompressed: true };
const font: Ending = { kind: 'font' };
const packedFont: Ending = { kind: 'font', isCompressed: true };
const media: Ending = { kind: 'media', isCompressed: true };
const archive: Ending = { kind: 'archive', isCompressed: true };

/** The one table of file endings. A platform adds its own: its template files are markup, whatever they end with. */
const ENDINGS: Readonly<Record<string, Ending>> = {
  ...{ html: markup, htm: markup, xhtml: markup },
  ...{ css: { kind: 'stylesheet', lexis: 'sheet', hasComments: true }, scss: sheetWithLines, less: sheetWithLines },
  ...{ js: script, mjs: script, cjs: script, ts: scriptSource, mts: scriptSource, cts: scriptSource, jsx: scriptSource, tsx: scriptSource },
  ...{ php: code, phtml: code, inc: code },
  ...{
    json: { kind: 'data' },
    csv: { kind: 'data' },
    map: { kind: 'source-map' },
    yaml: data,
    yml: data,
    toml: data,
    ini: data,
    conf: data,
  },
  ...{ theme: data, po: data, pot: data, xml: { ...data, lexis: 'markup' } },
  ...{ md: prose, rst: prose, txt: prose },
  svg: { kind: 'picture', lexis: 'markup', hasComments: true },
  ...{ png: picture, jpg: picture, jpeg: picture, gif: picture, webp: picture, avif: picture, ico: picture },
  ...{ woff: packedFont, woff2: packedFont, ttf: font, otf: font, eot: font },
  ...{ mp3: media, mp4: media, m4a: media, ogg: media, webm: media },
  ...{ gz: archive, tgz: archive, br: archive, zst: archive, bz2: archive, xz: archive, zip: archive, '7z': archive },
};

const OTHER: Ending = { kind: 'other' };

/** What the ending of a path tells. */
export function endingOf(path: string): Ending {
  const ending = /\.(\w+)$/.exec(path)?.[1]?.toLowerCase() ?? '';
  return (Object.hasOwn(ENDINGS, ending) ? ENDINGS[ending] : undefined) ?? OTHER;
}

const THIRD_PARTY_FOLDER = /(^|\/)(vendor|vendors|third[-_]party|external|node_modules)\//i;

/** Whether a file is plainly somebody else's, or was made by a tool from another: nobody mends it by hand. */
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
