import { UnreadableFileError, type FileTree } from '../files/file-tree.ts';
import { isGlob, matchesAny, matchesGlob } from '../files/glob.ts';
import { fillShape } from '../names/shape.ts';
import type { ThemeNames } from '../names/full-name.ts';
import { withEndings } from '../templates/template-index.ts';
import type { Platform } from '../platform/platform.ts';

/** Whether a tree shows a platform's marks; `missing` says which one it lacks. */
export interface Recognition {
  readonly platform: Platform;
  readonly missing?: string | undefined;
}

export function recognise(tree: FileTree, platform: Platform, names: ThemeNames): Recognition {
  for (const mark of platform.contract.recognise) {
    const path = fillShape(mark.path, names);
    const files = isGlob(path) ? tree.entries.map((entry) => entry.path).filter((each) => matchesGlob(each, path)) : [path];
    const present = files.filter((each) => tree.get(each) !== undefined);
    if (present.length === 0) return { platform, missing: `${path} is not there` };
    const { holds } = mark;
    if (holds !== undefined && !present.some((each) => holdsText(tree, each, holds))) {
      return { platform, missing: `${path} does not hold “${holds}”` };
    }
  }
  return { platform };
}

function holdsText(tree: FileTree, path: string, text: string): boolean {
  try {
    return tree.read(path).includes(text);
  } catch (error) {
    // A file that cannot be read still marks the theme; the check then says what is wrong with it.
    if (error instanceof UnreadableFileError) return true;
    throw error;
  }
}

/** How much a folder looks like a theme of a platform that it is not recognized as. */
export interface Likeness extends Recognition {
  /** What speaks for it, for people. */
  readonly evidence: readonly string[];
}

/** Fewer signs than this say nothing: many platforms have a readme and a folder of pictures. */
const DECISIVE = 2;

/** What of a platform's files a tree has, its marks apart: other documents, files it asks for, templates, pictures, stylesheets. */
export function likenessTo(tree: FileTree, platform: Platform, names: ThemeNames): Likeness {
  const { contract } = platform;
  const files = tree.entries.flatMap(({ path, kind }) => (kind === 'folder' ? [] : [path]));
  const has = (path: string): boolean => tree.get(path) !== undefined;
  const filled = (path: string): string => fillShape(path, names);
  const documents = contract.documents.map(({ path }) => filled(path)).filter((path) => !path.includes('{') && has(path));
  const wanted = contract.files.map(({ path }) => filled(path)).filter((path) => !/[*{]/.test(path) && has(path));
  const roles = Object.values(contract.templates?.roles ?? {})
    .flatMap(({ file }) => (contract.templates === undefined ? [] : withEndings(contract.templates, filled(file))))
    .filter(has);
  const images = contract.images.map(({ path }) => filled(path)).filter(has);
  const templates = files.filter((path) => matchesAny(path, contract.templates?.files ?? []));
  const named = new Set([...documents, ...wanted, ...roles, ...images]);
  const more = templates.length > 0 && roles.length === 0 ? [`${templates[0]} is where its templates are`] : [];
  return { ...recognise(tree, platform, names), evidence: [...[...named].map((path) => `${path} is there`), ...more] };
}

/** The platform that a folder looks most like, when it is clearly one. */
export function nearestPlatform(likenesses: readonly Likeness[]): Likeness | undefined {
  const [first, second] = likenesses.toSorted((a, b) => b.evidence.length - a.evidence.length);
  if (first === undefined || first.evidence.length < DECISIVE) return undefined;
  return first.evidence.length > (second?.evidence.length ?? 0) ? first : undefined;
}
