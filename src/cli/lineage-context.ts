import { dirname, join } from 'node:path';
import { UsageError } from '../core/errors.ts';
import { kindOnDisk } from '../core/files/disk.ts';
import type { Conflict } from '../core/lineage/merge.ts';
import type { Decide, Side } from '../core/lineage/merge-files.ts';
import { Originals } from '../core/lineage/originals.ts';
import { recognise } from '../core/theme/recognise.ts';
import type { OpenedTheme } from '../core/theme/open.ts';
import type { Context } from './command.ts';
import { promptsFor } from './prompts.ts';

/** Where archives of a theme, or of its parents, may lie: here, beside the theme, beside its shelf, and where packages are made. */
export function archiveFolders(context: Context, { folder }: Pick<OpenedTheme, 'folder'>): string[] {
  const shelf = dirname(folder);
  const beside = [...(kindOnDisk(folder) === 'folder' ? [folder] : []), shelf, dirname(shelf)];
  return [context.io.folder, ...beside].flatMap((each) => [each, join(each, 'dist')]).filter((each) => kindOnDisk(each) === 'folder');
}

/** Says so when a host would not take a folder for a theme at all: the rest of the output then means little. */
export function warnUnrecognised(context: Context, { theme }: OpenedTheme): void {
  const { missing } = recognise(theme.tree, theme.platform, theme.names);
  if (missing !== undefined)
    context.warn(`${context.paint.warn('▲')} ${theme.platform.contract.title} does not take ${theme.location} for a theme: ${missing}.`);
}

export function originalsFor(context: Context, opened: OpenedTheme): Originals {
  return new Originals(context.opening, archiveFolders(context, opened));
}

/** A conflict that was met, to be asked for. */
interface Met {
  readonly file: string;
  readonly number: number;
  readonly conflict: Conflict;
}

/**
 * Walks through conflicts on a terminal: plans once to meet them, asks for each, and plans again with the answers. Elsewhere, and
 * with --yes, all are left marked.
 */
export async function withDecisions<T>(context: Context, isAsking: boolean, plan: (decide: Decide) => Promise<T> | T): Promise<T> {
  const met: Met[] = [];
  const first = await plan((conflict, at) => {
    met.push({ ...at, conflict });
    return undefined;
  });
  if (!isAsking || !context.io.isInteractive || context.isMachine || met.length === 0) return first;
  const prompts = await promptsFor(context.io);
  const { paint } = context;
  const answers = new Map<string, Side>();
  for (const { file, number, conflict } of met) {
    context.say(`\n${paint.strong(file)}, conflict ${number}`);
    for (const line of conflict.ours) context.say(`  ${paint.bad('−')} ${line}`);
    for (const line of conflict.theirs) context.say(`  ${paint.good('+')} ${line}`);
    const answer = await prompts.choose<Side | 'mark'>('Which is right?', [
      { value: 'ours', label: 'what is here (−)' },
      { value: 'theirs', label: 'what comes in (+)' },
      { value: 'both', label: 'both, one after the other' },
      { value: 'mark', label: 'leave both, marked, to be edited' },
    ]);
    if (answer === undefined) throw new UsageError({ what: 'stopped: nothing was changed' });
    if (answer !== 'mark') answers.set(`${file}\0${number}`, answer);
  }
  return plan((_conflict, { file, number }) => answers.get(`${file}\0${number}`));
}
