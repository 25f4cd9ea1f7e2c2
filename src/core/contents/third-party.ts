import { baseOf, compareText, folderOf, type FileEntry, type FileTree } from '../files/file-tree.ts';
import { readText } from '../files/read-text.ts';
import { licenseIds } from '../licenses/license-ids.ts';
import { recogniseLicense } from '../licenses/recognise-license.ts';
import { statedLicense } from '../licenses/stated-license.ts';
import { isProductBanner, leadingComment, productOf } from '../text/banner.ts';
import { escapePattern } from '../text/pattern.ts';
import { isInThirdPartyFolder } from '../text/file-kinds.ts';
import { findZones } from '../text/zones.ts';
import type { Theme } from '../theme/theme.ts';

/** Something in a theme that someone else has made. */
export interface ThirdParty {
  readonly name: string;
  readonly version?: string | undefined;
  /** An SPDX license expression; undefined when nothing tells it. */
  readonly license?: string | undefined;
  /** Paths from the theme’s root, sorted. */
  readonly files: readonly string[];
}

type About = Pick<ThirdParty, 'name' | 'version' | 'license'>;

/** So much of a file is its head. */
const HEAD_CHARACTERS = 4000;
const LICENSE_FILE = /^(?:licen[cs]e|copying)[\w.-]*$/i;
/** Files by which packages of scripts and styles say what they are. */
const PACKAGE_FILES = new Set(['package.json', 'bower.json', 'composer.json']);

/** What of some files was made by others: in a folder of such, with papers of its own, or with a head that names another product. */
export function thirdPartyIn(theme: Theme, entries: readonly FileEntry[]): ThirdParty[] {
  const { tree } = theme;
  const files = entries.flatMap(({ kind, path }) => (kind === 'file' ? [path] : []));
  const papers = papersOf(theme, files);
  const found = new Map<string, { about: About; files: string[] }>();
  for (const path of files) {
    const root = rootOf(path, papers);
    const head = root === undefined ? headOf(tree, path) : undefined;
    if (root === undefined && !isInThirdPartyFolder(path) && !isForeign(theme, path, head)) continue;
    const key = root ?? groupOf(path);
    const group = found.get(key) ?? { about: papers.get(key) ?? { name: baseOf(key) }, files: [] };
    group.files.push(path);
    group.about = withHead(group.about, head, papers.has(key));
    found.set(key, group);
  }
  return [...found.values()]
    .map(({ about, files: own }) => ({ ...about, files: own.sort(compareText) }))
    .sort((a, b) => compareText(a.name, b.name) || compareText(a.files[0] ?? '', b.files[0] ?? ''));
}

/** The license file at the theme’s root: paths. */
export function licenseFiles(tree: FileTree): readonly string[] {
  return tree.entries.flatMap(({ kind, path }) => (kind === 'file' && LICENSE_FILE.test(path) ? [path] : []));
}

/** The papers in a folder, other than the theme’s own, and their say on what lies there. */
function papersOf(theme: Theme, files: readonly string[]): ReadonlyMap<string, About> {
  const papers = new Map<string, About>();
  for (const path of files) {
    const folder = folderOf(path);
    if (folder === '') continue;
    const isLicense = LICENSE_FILE.test(baseOf(path)) && !/\.(?:html?|css|js|php|svg|png)$/i.test(path);
    if (!isLicense && !PACKAGE_FILES.has(baseOf(path))) continue;
    const text = readText(theme.tree, path)?.text ?? '';
    const before = papers.get(folder);
    const said = isLicense ? { license: statedLicense(text.slice(0, HEAD_CHARACTERS)) ?? recogniseLicense(text) } : packageOf(text);
    if (said === undefined || (said.name !== undefined && isOwnName(theme, said.name))) continue;
    papers.set(folder, {
      name: said.name ?? before?.name ?? baseOf(folder),
      version: said.version ?? before?.version,
      license: said.license ?? before?.license,
    });
  }
  return papers;
}

/** The folder with papers that a file lies in, the outermost. */
function rootOf(path: string, papers: ReadonlyMap<string, About>): string | undefined {
  const parts = folderOf(path).split('/');
  return parts.map((_part, i) => parts.slice(0, i + 1).join('/')).find((folder) => papers.has(folder));
}

function packageOf(text: string): Partial<About> | undefined {
  try {
    const data = JSON.parse(text) as Readonly<Record<string, unknown>> | null;
    const said = (key: string): string | undefined => (typeof data?.[key] === 'string' ? data[key] : undefined);
    if (said('name') === undefined) return undefined;
    return { name: said('name') ?? '', version: said('version'), license: packageLicense(data?.['license'] ?? data?.['licenses']) };
  } catch {
    return undefined;
  }
}

/** A text, an object with a type, or a list of these, of which one is to be chosen. */
function packageLicense(said: unknown): string | undefined {
  if (Array.isArray(said)) {
    const all = said.map(packageLicense);
    return all.length > 0 && all.every((each) => each !== undefined) ? all.join(' OR ') : undefined;
  }
  if (typeof said === 'object' && said !== null && 'type' in said) return packageLicense(said.type);
  if (typeof said !== 'string') return undefined;
  return licenseIds(said).length > 0 ? said : statedLicense(`License: ${said}`);
}

/** Whether a file was made by others: it lies in a folder of such, or its head names another product. */
export function isThirdPartyFile(theme: Theme, path: string): boolean {
  return isInThirdPartyFolder(path) || isForeign(theme, path, headOf(theme.tree, path));
}

function headOf(tree: FileTree, path: string): string | undefined {
  const text = readText(tree, path)?.text.slice(0, HEAD_CHARACTERS);
  return text === undefined ? undefined : leadingComment(text, findZones(path, text));
}

/** Whether a head names another product than the theme, of someone else. */
function isForeign(theme: Theme, path: string, head: string | undefined): boolean {
  if (head === undefined || !isProductBanner(path, head)) return false;
  return !isOwnName(theme, head);
}

/** Whether a text names the theme, or who made it. */
function isOwnName(theme: Theme, text: string): boolean {
  const own = [theme.names.id, theme.names.title, theme.text('author')].filter((name) => name !== undefined && name !== '');
  return own.some((name = '') => new RegExp(`(?<![\\p{L}\\p{N}])${escapePattern(name)}(?![\\p{L}\\p{N}])`, 'iu').test(text));
}

/** In a folder of other people’s code: what lies directly in it, a folder or a file; elsewhere the file alone. */
function groupOf(path: string): string {
  const parts = path.split('/');
  const at = parts.findIndex((_part, i) => isInThirdPartyFolder(`${parts.slice(0, i + 1).join('/')}/`));
  return at < 0 ? path : parts.slice(0, at + 2).join('/');
}

function withHead(about: About, head: string | undefined, isOnPaper: boolean): About {
  if (head === undefined || head === '') return about;
  const product = productOf(head);
  return {
    name: isOnPaper || product === undefined ? about.name : product.name,
    version: about.version ?? product?.version,
    license: about.license ?? statedLicense(head),
  };
}
