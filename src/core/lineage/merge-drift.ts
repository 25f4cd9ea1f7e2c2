import type { ChangePlan } from '../changes/plan.ts';
import { sha256 } from '../changes/stamps.ts';
import { withFile } from '../files/changed-tree.ts';
import type { FileTree } from '../files/file-tree.ts';
import type { OpenedTheme } from '../theme/open.ts';
import { Theme } from '../theme/theme.ts';
import { keptOriginal, withOverrides } from '../contents/overrides.ts';
import type { TakenFile } from '../contents/taken-schema.ts';
import type { Drift, DriftedFile } from './drift.ts';
import { mergeFiles, type Decide, type MergedFile } from './merge-files.ts';
import { planTo, soundRecord } from './override.ts';
import type { Originals } from './originals.ts';

/** The effect of a merge on one file, or the reason why it has none. */
export interface MergeStep {
  readonly file: string;
  readonly outcome:
    | { readonly kind: 'merged'; readonly merged: MergedFile }
    /** One side of a file that is not a text, or that has no original. */
    | { readonly kind: 'chosen'; readonly side: 'ours' | 'theirs' }
    | { readonly kind: 'left'; readonly why: 'binary' | 'no-original' };
}

export interface MergeWishes {
  readonly decide?: Decide | undefined;
  /** Which side is taken where there is nothing to merge by: of pictures, and where nobody keeps the original. */
  readonly whole?: 'ours' | 'theirs' | undefined;
  /** Milliseconds since 1970. */
  readonly now: number;
}

export interface Merging {
  readonly plan: ChangePlan;
  readonly steps: readonly MergeStep[];
  /** The theme as the plan leaves it. */
  readonly theme: Theme;
}

/**
 * Plans to bring what the parents changed into the child’s copies: three ways, from the original that the record names. Writes
 * nothing.
 */
export async function planMerge(
  { theme, chain, folder }: OpenedTheme,
  drift: Drift,
  originals: Originals,
  { decide, whole, now }: MergeWishes,
): Promise<Merging> {
  const record = soundRecord(theme);
  const steps: MergeStep[] = [];
  const renewed = new Map<string, TakenFile>();
  let tree: FileTree = theme.tree;
  for (const file of drift.files.filter(({ state }) => state === 'changed')) {
    const step = mergeStep(file, theme.names.id, decide, whole);
    steps.push(step);
    const bytes = bytesOf(step, file);
    if (bytes === undefined || file.theirs === undefined) continue;
    tree = withFile(tree, step.file, bytes);
    const parent = chain.themes.find(({ names }) => names.id === file.record.theme);
    renewed.set(step.file, await renewedRecord(file, file.theirs, (each) => originals.find(each, parent), now));
  }
  const taken = record.taken.map((each) => renewed.get(each.file) ?? each);
  const after = renewed.size === 0 ? tree : withOverrides(tree, taken);
  const merged = new Theme(theme.platform, after, theme.names, theme.location);
  return { plan: planTo(theme, folder, after, 'drift --merge', [...renewed.keys()]), steps, theme: merged };
}

function mergeStep(file: DriftedFile, id: string, decide: Decide | undefined, whole: MergeWishes['whole']): MergeStep {
  const { record, ours, original, theirs, version } = file;
  const at = { file: record.file };
  if (ours === undefined || theirs === undefined) return { ...at, outcome: { kind: 'left', why: 'no-original' } };
  // What nobody changed here is simply replaced.
  const base = original?.bytes ?? (file.isOurs ? undefined : ours);
  if (base === undefined)
    return { ...at, outcome: whole === undefined ? { kind: 'left', why: 'no-original' } : { kind: 'chosen', side: whole } };
  const names = { ours: id, theirs: `${record.theme} ${version ?? ''}`.trim() };
  const merged = mergeFiles(record.file, { ours, original: base, theirs }, names, decide);
  if (merged !== undefined) return { ...at, outcome: { kind: 'merged', merged } };
  const side = file.isOurs ? whole : 'theirs';
  return { ...at, outcome: side === undefined ? { kind: 'left', why: 'binary' } : { kind: 'chosen', side } };
}

function bytesOf({ outcome }: MergeStep, { ours, theirs }: DriftedFile): Buffer | undefined {
  if (outcome.kind === 'merged') return outcome.merged.bytes;
  return outcome.kind === 'left' ? undefined : outcome.side === 'ours' ? ours : theirs;
}

/** From now on the child’s copy comes from what the parent has now. */
async function renewedRecord(
  { record, version }: DriftedFile,
  theirs: Buffer,
  find: (record: TakenFile) => Promise<unknown>,
  now: number,
): Promise<TakenFile> {
  const { file, theme, from } = record;
  const next: TakenFile = {
    file,
    theme,
    ...(version === undefined ? {} : { version }),
    from,
    sha256: sha256(theirs),
    taken: new Date(now).toISOString().slice(0, 10),
  };
  const isKept = (await find(next)) !== undefined;
  return isKept ? next : { ...next, original: keptOriginal(theirs) };
}
