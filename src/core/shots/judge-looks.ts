import { SourceDocument } from '../text/source-document.ts';
import { kindOfPath } from '../text/file-kinds.ts';
import { escapePattern } from '../text/pattern.ts';
import type { Finding } from '../rules/engine/check.ts';
import { baseOf, type FileTree } from '../files/file-tree.ts';
import type { Chain } from '../theme/chain.ts';
import { serveRole } from '../contents/roles.ts';
import { withIncluded } from '../contents/templates.ts';
import type { Look } from './look-at-pages.ts';
import { comparePictures, withBoxes } from './pictures.ts';
import type { Box, Stumble } from './stumble.ts';

/** Pictures that were accepted are kept there, in the folder of the pictures. */
const ACCEPTED = 'accepted';

/** What came of looking at pages. */
export interface JudgedLooks {
  readonly findings: readonly Finding[];
  /** The files to write into the folder of the pictures, by path. */
  readonly files: ReadonlyMap<string, Buffer>;
}

/** What pages are held against. */
export interface LookBasis {
  readonly chain: Chain;
  /** The folder of the pictures as it is. */
  readonly before: FileTree;
  /** Whether the pictures are the ones that later ones are compared with. */
  readonly isAccepting: boolean;
}

/** Makes findings, with pictures, of what a browser showed; what is the same on several pages is one. */
export async function judgeLooks(looks: readonly Look[], { chain, before, isAccepting }: LookBasis): Promise<JudgedLooks> {
  const files = new Map(ofOtherPages(before, new Set(looks.map(pictureName))));
  const found = new Map<string, { stumble: Stumble; name: string; where: string[]; picture?: string }>();
  const changed: Finding[] = [];
  for (const look of looks) {
    const picture = pictureName(look);
    files.set(picture, look.picture);
    const boxes: (Box & { number: number })[] = [];
    for (const stumble of look.stumbles) {
      const key = [stumble.kind, stumble.rule, stumble.element?.markup ?? stumble.message].join('\0');
      const known = found.get(key);
      const at = `${look.name} (${look.viewport.name})`;
      if (known !== undefined) {
        if (!known.where.includes(at)) known.where.push(at);
      } else {
        if (stumble.box !== undefined) boxes.push({ ...stumble.box, number: boxes.length + 1 });
        const marked = stumble.box === undefined ? {} : { picture: `marked/${picture}, ${boxes.length}` };
        found.set(key, { stumble, name: look.name, where: [at], ...marked });
      }
    }
    if (boxes.length > 0) files.set(`marked/${picture}`, await withBoxes(look.picture, boxes));
    const old = before.get(`${ACCEPTED}/${picture}`)?.kind === 'file' ? before.read(`${ACCEPTED}/${picture}`) : undefined;
    files.set(`${ACCEPTED}/${picture}`, isAccepting || old === undefined ? look.picture : old);
    const difference = isAccepting || old === undefined ? undefined : await comparePictures(old, look.picture);
    if (difference === undefined) continue;
    files.set(`changes/${picture}`, difference.picture);
    const share = (100 * difference.differing) / difference.all;
    const much = share < 0.1 ? 'less than 0.1' : share.toFixed(1);
    const template = templateOf(chain, look.name);
    changed.push(
      finding('changed', 'warning', `${look.name} (${look.viewport.name}) looks different: ${much} % of it (changes/${picture})`, template),
    );
  }
  const problems = [...found.values()].map(({ stumble, name, where, picture }) => {
    const [first = '', ...more] = where;
    const pages = more.length === 0 ? first : more.length < 3 ? where.join(', ') : `${first} and ${more.length} more`;
    const severity = stumble.kind === 'console' || stumble.kind === 'missing' ? 'error' : 'warning';
    const text = `${stumble.message}, on ${pages}${picture === undefined ? '' : ` (${picture})`}`;
    return finding(stumble.kind, severity, text, placeOf(chain, name, stumble));
  });
  return { findings: [...problems, ...changed], files };
}

/** The pictures of pages that nobody looked at this time: they stay as they are. */
function ofOtherPages(before: FileTree, looked: ReadonlySet<string>): [path: string, picture: Buffer][] {
  return before.entries.flatMap(({ kind, path }) => (kind === 'file' && !looked.has(baseOf(path)) ? [[path, before.read(path)]] : []));
}

function pictureName({ name, viewport }: Look): string {
  return `${name}.${viewport.name}.png`;
}

interface Place {
  readonly file: string;
  readonly source?: SourceDocument | undefined;
  readonly start: number;
}

const NOWHERE: Place = { file: '', start: 0 };

function finding(
  kind: Stumble['kind'] | 'changed',
  severity: Finding['severity'],
  message: string,
  { file, source, start }: Place,
): Finding {
  const { line, column } = source?.positionAt(start) ?? { line: 1, column: 1 };
  return {
    rule: `shot/${kind}`,
    severity,
    file,
    line,
    column,
    message,
    code: kind,
    args: {},
    why: '',
    isRefusal: false,
    isSeen: true,
    sourceLine: source?.text.split('\n')[line - 1]?.replace(/\r$/, ''),
    length: 0,
  };
}

/** The theme’s own template of a page, by the page’s name. */
function templateOf(chain: Chain, name: string): Place {
  const { file } = serveRole(chain, name.split('.')[0] ?? name);
  return file === undefined || file.theme !== chain.themes[0] ? NOWHERE : { file: file.path, start: 0 };
}

/** Where the theme’s templates write the text that a reader stumbles over; the page’s template where that is unknown. */
function placeOf(chain: Chain, name: string, { element, message, kind }: Stumble): Place {
  const { file } = serveRole(chain, name.split('.')[0] ?? name);
  if (file === undefined) return NOWHERE;
  const own = withIncluded(chain, file.path).filter(({ theme }) => theme === chain.themes[0]);
  const address = kind === 'missing' ? /([^/\s]+) was answered/.exec(message)?.[1] : undefined;
  const signs =
    element === undefined ? (address === undefined ? [] : [{ pattern: literal(address), isSure: true }]) : signsOf(element.markup);
  for (const { pattern, isSure } of signs) {
    const places = own.flatMap(({ path, source }) =>
      Array.from(source.text.matchAll(pattern), ({ index }): Place => ({ file: path, source, start: index })),
    );
    const [first] = places;
    // Of several of which any may be meant, none is: a wrong line is worse than none.
    if (first !== undefined && (isSure || places.length === 1)) return first;
  }
  return (address === undefined ? undefined : askedBy(chain, address)) ?? templateOf(chain, name);
}

/** Where a stylesheet or a script of the theme asks for a file. */
function askedBy({ themes: [theme] }: Chain, address: string): Place | undefined {
  for (const { path, kind } of theme?.tree.entries ?? []) {
    const source = kind === 'file' && ['stylesheet', 'script'].includes(kindOfPath(path)) ? theme?.source(path) : undefined;
    const start = source?.text.indexOf(address) ?? -1;
    if (start >= 0) return { file: path, source, start };
  }
  return undefined;
}

/** How a template may write an element: as the page has it; by its id or its first class; by its name alone. */
function signsOf(markup: string): { pattern: RegExp; isSure: boolean }[] {
  const [opening = '', tag, attributes = ''] = /^<([\w-]+)([^>]*)>?/.exec(markup) ?? [];
  if (tag === undefined) return [];
  const escaped = (text: string): string => text.replaceAll(/[^\w-]/g, '\\$&');
  const id = /\bid="([^"]+)"/.exec(attributes)?.[1];
  const name = /\bclass="\s*([^\s"]+)/.exec(attributes)?.[1];
  const signs = [{ pattern: literal(opening), isSure: attributes.trim() !== '' }];
  if (id !== undefined) signs.push({ pattern: new RegExp(`<${tag}\\b[^<>]{0,1000}\\bid=["']?${escaped(id)}\\b`, 'g'), isSure: true });
  else if (name !== undefined) {
    const classes = `\\bclass=["']?[^"'<>]{0,500}(?<![\\w-])${escaped(name)}(?![\\w-])`;
    signs.push({ pattern: new RegExp(`<${tag}\\b[^<>]{0,1000}${classes}`, 'g'), isSure: true });
  } else signs.push({ pattern: new RegExp(`<${tag}(?=[\\s>])`, 'g'), isSure: false });
  return signs;
}

function literal(text: string): RegExp {
  return new RegExp(escapePattern(text), 'g');
}
