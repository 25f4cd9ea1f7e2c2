import { fillShape, wholePattern } from '../names/shape.ts';
import type { ChangePlan } from '../changes/plan.ts';
import { withFiles } from '../files/changed-tree.ts';
import { compareText, type FileTree } from '../files/file-tree.ts';
import { matchesAny } from '../files/glob.ts';
import { kindOfPath } from '../text/file-kinds.ts';
import { SourceDocument } from '../text/source-document.ts';
import type { OpenedTheme } from '../theme/open.ts';
import { CONFIGURATION_NAMES } from '../contents/package-contents.ts';
import { isTemplate } from '../contents/templates.ts';
import { Theme } from '../theme/theme.ts';
import { mergeFiles, type Decide, type MergedFile } from './merge-files.ts';
import { planTo } from './override.ts';

/**
 * The meaning of an exported file for a theme:
 * - `new`: the theme does not have it
 * - `changed`: it is another one, and is taken as it is
 * - `merged`: theme and site both changed it since, or nobody knows which did; `left`: the same, and it is not text
 * - `same`; `older`: only the theme changed it since the export
 * - `unknown`: the platform does not know such a file: it is listed, and not taken
 */
export type HarvestState = 'new' | 'changed' | 'merged' | 'left' | 'same' | 'older' | 'unknown';

export interface HarvestedFile {
  readonly file: string;
  readonly state: HarvestState;
  readonly before?: Buffer | undefined;
  readonly after?: Buffer | undefined;
  readonly merged?: MergedFile | undefined;
}

export interface Harvest {
  readonly files: readonly HarvestedFile[];
  /** Files of the theme that the export does not have: they stay. */
  readonly missing: readonly string[];
  readonly plan: ChangePlan;
  /** The theme as the plan leaves it. */
  readonly theme: Theme;
}

export interface HarvestRequest {
  readonly opened: OpenedTheme;
  /** The files that the site has, from the theme’s root. */
  readonly exported: FileTree;
  /** The contents of a file when it was put on the site, for a merge of what both changed; undefined where nobody knows. */
  readonly original?: ((file: string) => Buffer | undefined) | undefined;
  /** The site's name in marks of conflicts. */
  readonly called: string;
  readonly decide?: Decide | undefined;
  /** Which side of a file that is not a text, and that both changed, is taken. */
  readonly whole?: 'ours' | 'theirs' | undefined;
}

/** Plans to take back into a theme what was changed on a site. Writes nothing. */
export function planHarvest({ opened, exported, original = () => undefined, called, decide, whole }: HarvestRequest): Harvest {
  const { theme, folder } = opened;
  const files: HarvestedFile[] = [];
  for (const { path, kind } of exported.entries) {
    if (kind !== 'file' || CONFIGURATION_NAMES.includes(path)) continue;
    files.push(judge(theme, path, exported.read(path), original(path), { called, decide, whole }));
  }
  const missing = theme.tree.entries.flatMap(({ path, kind }) =>
    kind === 'file' && !CONFIGURATION_NAMES.includes(path) && exported.get(path) === undefined ? [path] : [],
  );
  const changed = new Map(files.flatMap(({ file, after }) => (after === undefined ? [] : [[file, after] as const])));
  const after = withFiles(theme.tree, changed);
  return {
    files: files.sort((a, b) => compareText(a.file, b.file)),
    missing,
    plan: planTo(theme, folder, after, 'harvest', [...changed.keys()]),
    theme: new Theme(theme.platform, after, theme.names, theme.location),
  };
}

function judge(
  theme: Theme,
  file: string,
  theirs: Buffer,
  original: Buffer | undefined,
  { called, decide, whole }: Pick<HarvestRequest, 'called' | 'decide' | 'whole'>,
): HarvestedFile {
  const ours = theme.tree.get(file)?.kind === 'file' ? theme.tree.read(file) : undefined;
  if (ours === undefined) return isKnown(theme, file) ? { file, state: 'new', after: theirs } : { file, state: 'unknown' };
  if (isSameContent(file, ours, theirs)) return { file, state: 'same' };
  if (original !== undefined && isSameContent(file, ours, original))
    return { file, state: 'changed', before: ours, after: inOurForm(file, ours, theirs) };
  if (original !== undefined && isSameContent(file, theirs, original)) return { file, state: 'older' };
  // Without an original nobody knows which side changed: what would remove something here is a conflict.
  const merged = mergeFiles(file, { ours, original, theirs }, { ours: theme.names.id, theirs: called }, decide);
  // All that the site changed is in the theme already.
  if (merged !== undefined && merged.bytes.equals(ours)) return { file, state: 'older' };
  if (merged !== undefined) return { file, state: 'merged', before: ours, after: merged.bytes, merged };
  return whole === 'theirs' ? { file, state: 'changed', before: ours, after: theirs } : { file, state: 'left', before: ours };
}

/** Whether two versions say the same, but for the ends of their lines. */
function isSameContent(file: string, a: Buffer, b: Buffer): boolean {
  if (a.equals(b)) return true;
  const [left, right] = [a, b].map((bytes) => SourceDocument.decode(file, bytes)?.text.replaceAll('\r\n', '\n'));
  return left !== undefined && left === right;
}

/** The bytes of an export with the line ends and the encoding that the theme’s file has. */
function inOurForm(file: string, ours: Buffer, theirs: Buffer): Buffer {
  const [own, other] = [SourceDocument.decode(file, ours), SourceDocument.decode(file, theirs)];
  if (own === undefined || other === undefined) return theirs;
  const end = own.text.includes('\r\n') ? '\r\n' : '\n';
  return own.encode(other.text.replace(/\r\n|\n/g, end)) ?? theirs;
}

const PLAIN_KINDS: ReadonlySet<string> = new Set(['stylesheet', 'script', 'picture', 'font']);

/** Whether a theme of the platform can have such a file: a template, a document, a file that it names, or what pages load. */
function isKnown(theme: Theme, path: string): boolean {
  const { contract } = theme.platform;
  const named = [
    ...contract.documents.map((document) => document.path),
    ...contract.images.map((image) => image.path),
    ...(contract.strings === undefined ? [] : [contract.strings.file]),
    ...(contract.bundles === undefined ? [] : [contract.bundles.file]),
  ];
  const globs = [
    ...contract.files.filter(({ forbidden }) => !forbidden).map((rule) => fillShape(rule.path, theme.names)),
    ...contract['host-files'],
  ];
  if (contract.files.some((rule) => rule.forbidden && matchesAny(path, [rule.path]))) return false;
  return (
    isTemplate(theme, path) ||
    named.some((shape) => wholePattern(shape, theme.names).test(path)) ||
    matchesAny(path, globs) ||
    PLAIN_KINDS.has(kindOfPath(path))
  );
}
