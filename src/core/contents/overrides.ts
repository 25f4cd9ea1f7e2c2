import { deflateRawSync } from 'node:zlib';
import { parseDocument, stringify, isMap, isSeq } from 'yaml';
import { withFile, withoutFile } from '../files/changed-tree.ts';
import type { FileTree } from '../files/file-tree.ts';
import { readText } from '../files/read-text.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { OVERRIDES_FILE } from './package-contents.ts';
import { TakenSchema, type TakenFile } from './taken-schema.ts';

const HEAD = '# Files taken from a parent, so that Pionero can report how they change there. Not part of the theme.\n';

/** The record of a theme: what it says, and what of it cannot be read. */
export interface OverridesRecord {
  readonly taken: readonly TakenFile[];
  readonly source: SourceDocument | undefined;
  readonly problems: readonly RecordProblem[];
  /** Where each entry of {@link taken} stands; 0-based offsets. */
  readonly places: readonly { readonly start: number; readonly end: number }[];
}

export interface RecordProblem {
  readonly message: string;
  readonly start: number;
  readonly end: number;
}

/** Reads the record of what a theme took from its parents; an empty one where there is none. */
export function readOverrides(tree: FileTree): OverridesRecord {
  const source = tree.get(OVERRIDES_FILE)?.kind === 'file' ? readText(tree, OVERRIDES_FILE) : undefined;
  if (source === undefined) return { taken: [], source, problems: [], places: [] };
  const document = parseDocument(source.text, { strict: true });
  const problems: RecordProblem[] = document.errors.map(({ message, pos: [start, end] }) => ({
    message: message.split('\n')[0]?.replace(/ at line .*$/, '') ?? '',
    start,
    end,
  }));
  const list = isMap(document.contents) ? document.contents.get('overrides', true) : undefined;
  if (problems.length > 0 || !isSeq(list))
    return {
      taken: [],
      source,
      problems: problems.length > 0 ? problems : [{ message: 'it holds no list “overrides”', start: 0, end: 0 }],
      places: [],
    };
  const taken: TakenFile[] = [];
  const places: { start: number; end: number }[] = [];
  for (const item of list.items) {
    const [start = 0, end = start] = (item as { range?: [number, number, number] }).range ?? [];
    const read = TakenSchema.safeParse((item as { toJSON(): unknown }).toJSON());
    const isInside = read.success && ![read.data.file, read.data.from].some((path) => /^\/|\\|(?:^|\/)\.\.(?:\/|$)/.test(path));
    if (read.success && isInside) {
      taken.push(read.data);
      places.push({ start, end });
    } else
      problems.push({
        message: read.success
          ? 'a path in it leaves the theme'
          : `an entry is not complete: ${read.error.issues[0]?.path.join('.')} ${read.error.issues[0]?.message ?? ''}`,
        start,
        end,
      });
  }
  return { taken, source, problems, places };
}

/** An original as a record keeps it: see {@link TakenFile}. */
export function keptOriginal(bytes: Buffer): string {
  return deflateRawSync(bytes, { level: 9 }).toString('base64');
}

/** A tree with another record in it, or with none where nothing is on record. */
export function withOverrides(tree: FileTree, taken: readonly TakenFile[]): FileTree {
  const record = writeOverrides(taken);
  if (record !== undefined) return withFile(tree, OVERRIDES_FILE, record);
  return tree.get(OVERRIDES_FILE) === undefined ? tree : withoutFile(tree, OVERRIDES_FILE);
}

/** The text of a record; undefined for one that says nothing: there is no such file then. */
function writeOverrides(taken: readonly TakenFile[]): Buffer | undefined {
  if (taken.length === 0) return undefined;
  return Buffer.from(HEAD + stringify({ overrides: taken }, { keepUndefined: false, lineWidth: 0 }));
}
