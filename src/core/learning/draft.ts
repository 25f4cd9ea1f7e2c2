import { RefusedError } from '../errors.ts';
import { MemoryTree } from '../files/memory-tree.ts';
import type { FileTree } from '../files/file-tree.ts';
import { canBeDocument } from './readers.ts';
import { learnPlatform } from './learn-platform.ts';
import { learnDocuments } from './learn-documents.ts';
import { fitToThemes, type Fitted } from './fit.ts';
import { ThemeSet, type SampleTheme } from './theme-set.ts';
import { platformTextOf, type DraftWishes } from './write-platform.ts';

export interface DraftRequest {
  readonly themes: readonly SampleTheme[];
  readonly wishes: DraftWishes & { readonly manifest?: string | undefined };
  /** The name of the folder that the themes are in: themes. */
  readonly folderName: string;
  /** The file’s name, and the folder on disk that it is for. */
  readonly file: string;
  readonly folder: string;
  /** Folders on disk in which the themes and their parents lie. */
  readonly shelves: readonly string[];
  /** Themes of other hosts, which the marks must not fit. */
  readonly strangers?: readonly FileTree[] | undefined;
}

/** Answers to propose before a file is drafted: the likeliest manifests, and where a theme seems to live. */
export function guessesFor(
  themes: readonly SampleTheme[],
  folderName: string,
): { manifests: readonly { path: string; facts: readonly string[] }[]; home: string } {
  const manifests = learnDocuments(new ThemeSet(themes)).map(({ path, fields }) => ({ path, facts: fields.map(({ fact }) => fact) }));
  return { manifests, home: homeOf(folderName) };
}

/** A name for a platform, after the folder that its themes are in. */
export function guessName(folderName: string): string {
  const plain = folderName.replace(/[^A-Za-z0-9-]+/g, '-').toLowerCase();
  return /^[a-z]/.test(plain) && !/^(?:themes|skins|templates|looks|src|tmp)$/.test(plain) ? plain : 'my-host';
}

function homeOf(folderName: string): string {
  return `${/^[\w-]+$/.test(folderName) ? folderName : 'themes'}/{id}`;
}

/**
 * A platform file that takes the themes that it was learned from, all but the odd one out, and says beside each line how many of them
 * bear it out. Nothing is written.
 * @throws RefusedError when the themes are of several hosts, or have nothing in common
 */
export function draftPlatform({ themes, wishes, folderName, file, folder, shelves, strangers = [] }: DraftRequest): Fitted {
  refuseMixed(new ThemeSet(themes));
  const learned = learnPlatform(themes, wishes.manifest, [...strangers, ANY_PACKAGE]);
  // A single folder may hold anything, where no file says what it is.
  if (learned.marks.length === 0 || (themes.length === 1 && learned.documents.length === 0))
    throw new RefusedError({
      what:
        themes.length === 1
          ? `no file of ${themes[0]?.id} tells it from any other folder`
          : 'the themes have no file in common that tells them from any other folder',
      hint: 'name the folders of themes that work on the host; docs/platform-files.md shows how a file is written by hand',
    });
  return fitToThemes(learned, themes, { file, folder, shelves, write: (each) => platformTextOf(each, wishes, homeOf(folderName)) });
}

const ANY_PACKAGE = MemoryTree.of({
  'package.json': '{\n  "name": "x",\n  "version": "1.0.0",\n  "description": "x",\n  "license": "MIT"\n}\n',
});

/** A share of the themes that has to have a file at the top for them to be of one host. */
const ONE_HOST = 0.7;

/** @throws RefusedError when several groups of themes each have a file that the others lack, and no file is common to most */
function refuseMixed(set: ThemeSet): void {
  let rest = [...set.themes];
  const groups: { file: string; ids: string[] }[] = [];
  while (rest.length > 0) {
    const first = new ThemeSet(rest).commonShapes(0).find(({ shape }) => canBeDocument(shape) && shape.split('/').length <= 2);
    if (first === undefined) break;
    const having = rest.filter((theme) => set.shapes(theme).has(first.shape));
    groups.push({ file: first.shape, ids: having.map(({ id }) => id) });
    rest = rest.filter((theme) => !having.includes(theme));
  }
  const large = groups.filter(({ ids }) => ids.length > 1);
  if (large.length < 2 || (large[0]?.ids.length ?? 0) >= ONE_HOST * set.size) return;
  throw new RefusedError({
    what: `these look like themes of ${large.length} hosts, not of one`,
    why: large.map(({ file, ids }) => `${ids.slice(0, 4).join(', ')}${ids.length > 4 ? ' and others' : ''} have ${file}`).join('; '),
    hint: 'name the themes of one host at a time',
  });
}
