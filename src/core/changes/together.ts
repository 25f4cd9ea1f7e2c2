import { randomBytes } from 'node:crypto';
import { FailedOperationError } from '../errors.ts';
import { applyPlan, type ApplyOptions } from './apply.ts';
import type { Journal, JournalEntry } from './journal.ts';
import type { ChangePlan } from './plan.ts';
import { isAlive, isSameProcess, thisProcess } from './process-identity.ts';
import { proposeUndo, undoEntry } from './undo.ts';

/**
 * Applies plans for several folders, all or none: when one fails, those before it are taken back. Each is an entry of its own in
 * the journal; that they belong together is on record, so that the next command takes back what a run that was killed had begun.
 * @throws like {@link applyPlan}
 */
export async function applyTogether(plans: readonly ChangePlan[], options: ApplyOptions): Promise<void> {
  const [only, ...more] = plans;
  if (only === undefined) return;
  if (more.length === 0) return applyPlan(only, options);
  const together = randomBytes(8).toString('hex');
  try {
    for (const [i, plan] of plans.entries()) await applyPlan(plan, { ...options, now: options.now + i, together });
    await markWhole(options.journal, together);
  } catch (error) {
    await takeBack(await entriesOf(options.journal, together), options).catch((cause: unknown) => {
      throw new FailedOperationError({
        what: `“${only.title}” failed, and not all of it could be taken back`,
        why: cause instanceof Error ? cause.message : String(cause),
        hint: 'the next command tries it again; “pionero undo --list” shows what is left',
        cause: error,
      });
    });
    throw error;
  }
}

/** The applied entries that belong together, the last one first. */
async function entriesOf(journal: Journal, together: string): Promise<JournalEntry[]> {
  const entries = await journal.list('done');
  return entries.filter((entry) => entry.together === together).toReversed();
}

/** The last entry says that nothing is missing: it is the last to be pruned, and the first to be taken back. */
async function markWhole(journal: Journal, together: string): Promise<void> {
  const entries = await entriesOf(journal, together);
  const [last] = entries;
  if (last === undefined) return;
  await journal.save('done', { ...last, isWhole: true });
  await journal.markSettled(new Set(entries.map(({ id }) => id)), last.id);
}

async function takeBack(entries: readonly JournalEntry[], options: ApplyOptions): Promise<void> {
  for (const entry of entries) await undoEntry(await proposeUndo(entry), { ...options, signal: undefined });
}

/** An applied entry with all that belongs to it, the last one first; itself alone where nothing does. */
export async function withTogether(journal: Journal, entry: JournalEntry): Promise<JournalEntry[]> {
  return entry.together === undefined ? [entry] : entriesOf(journal, entry.together);
}

/** Takes an applied entry, with all that belongs to it, off the list of what can be taken back: the one that says that nothing is missing last. */
export async function dropTogether(journal: Journal, entry: JournalEntry): Promise<void> {
  for (const each of (await withTogether(journal, entry)).toReversed()) await journal.drop('done', each.id);
}

/**
 * Takes back what a run had begun for several folders and had not brought to its end. To be called after recovering.
 * @returns the titles of what was taken back
 */
export async function recoverTogether(journal: Journal, now: number): Promise<string[]> {
  const fresh = await journal.unsettled();
  const isInSet = ({ together }: Pick<JournalEntry, 'together'>): boolean => together !== undefined;
  // Of a set all entries are needed, whichever of them are new.
  const entries = fresh.some(isInSet) ? (await journal.list('done')).filter(isInSet) : [];
  const titles: string[] = [];
  for (const together of new Set(entries.map((entry) => entry.together))) {
    const own = entries.filter((entry) => entry.together === together).toReversed();
    const isOurs = own.every((entry) => !isAlive(entry) || isSameProcess(entry, thisProcess));
    const whole = own.find(({ isWhole }) => isWhole === true);
    if (whole !== undefined) await journal.markSettled(new Set(own.map(({ id }) => id)), whole.id);
    if (whole !== undefined || !isOurs) continue;
    // What someone changed meanwhile stays: it is on the list of what can be undone.
    const isBack = await takeBack(own, { journal, now }).then(
      () => true,
      () => false,
    );
    if (isBack) titles.push(own.at(-1)?.title ?? '');
  }
  await journal.markSettled(new Set(fresh.filter((each) => !isInSet(each)).map(({ id }) => id)));
  return titles;
}
