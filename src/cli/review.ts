import { UsageError } from '../core/errors.ts';
import { placeKey, type Decisions } from '../core/rename/analyse-file.ts';
import type { ThemeRename } from '../core/rename/rename-theme.ts';
import type { Context } from './command.ts';
import { promptsFor } from './prompts.ts';
import { reasonText } from './output/reason-text.ts';

/** The classes of places that can be gone through one by one. */
export const REVIEWABLE = ['path', 'identifier', 'text', 'kept'] as const;
type Reviewable = (typeof REVIEWABLE)[number];

/** A place that somebody has to decide on. */
interface OpenPlace {
  readonly key: string;
  readonly where: string;
  readonly line: string;
  readonly found: string;
  /** What places of the same sort have in common. */
  readonly code: string;
  readonly reason: string;
  /** What would stand there; undefined when that cannot be told. */
  readonly proposal: string | undefined;
}

/**
 * Walks through places on the terminal, one key each.
 * @throws UsageError when nobody can be asked
 */
export async function reviewPlaces(context: Context, rename: ThemeRename, also: readonly Reviewable[]): Promise<Decisions> {
  const places = openPlaces(rename, also);
  if (!context.io.isInteractive || context.isMachine) {
    throw new UsageError({
      what: `${places.length} places are to be reviewed, and nobody can be asked here`,
      hint: 'take them in with --include, or save the plan with --plan-out, change it and apply it with --plan',
    });
  }
  const { paint } = context;
  const decisions = new Map<string, string | null>();
  for (const [i, place] of places.entries()) {
    const answer = await ask(context, place, `${i + 1} of ${places.length}`);
    if (answer === 'stop') break;
    const same = answer === 'change-all' ? places.slice(i).filter((each) => each.code === place.code) : [place];
    for (const each of same) {
      if (decisions.has(each.key)) continue;
      if (answer === 'keep') decisions.set(each.key, null);
      else if (typeof answer === 'object') decisions.set(each.key, answer.text);
      else if (each.proposal !== undefined) decisions.set(each.key, each.proposal);
    }
    if (answer === 'change-all') places.splice(i + 1, places.length, ...places.slice(i + 1).filter((each) => !decisions.has(each.key)));
  }
  context.say(paint.faint(`${decisions.size} of ${places.length} places decided.`));
  return decisions;
}

function openPlaces({ edits, kept, unsure }: ThemeRename, also: readonly Reviewable[]): OpenPlace[] {
  const staying = [...unsure, ...(also.includes('kept') ? kept : [])].map(({ was, text, found, reason, proposal }) => ({
    key: placeKey(was.file, was),
    where: was.line === 0 ? was.file : `${was.file}:${was.line}:${was.column}`,
    line: text,
    found,
    code: reason.code,
    reason: reasonText(reason),
    proposal,
  }));
  const changing = edits
    .filter(({ kind }) => (also as readonly string[]).includes(kind))
    .map(({ was, before, found, becomes, kind }) => ({
      key: placeKey(was.file, was),
      where: `${was.file}:${was.line}:${was.column}`,
      line: before,
      found,
      code: kind,
      reason: kind,
      proposal: becomes,
    }));
  return [...staying, ...changing];
}

type Answer = 'keep' | 'change' | 'change-all' | 'stop' | { readonly text: string };

async function ask({ io, paint }: Context, { where, line, found, reason, proposal }: OpenPlace, count: string): Promise<Answer> {
  const prompts = await promptsFor(io);
  const shown = line.replace(found, paint.strong(found));
  const answer = await prompts.chooseKey(`${paint.faint(`${count} · ${where} · ${reason}`)}\n  ${shown}`, [
    ...(proposal === undefined
      ? []
      : [
          { value: 'c' as const, label: `change to ${proposal}` },
          { value: 'a' as const, label: 'change this and all the rest for the same reason' },
        ]),
    { value: 'k' as const, label: 'keep' },
    { value: 'w' as const, label: 'write something else' },
    { value: 's' as const, label: 'stop here; the rest stays as proposed' },
  ]);
  if (answer === undefined || answer === 's') return 'stop';
  if (answer === 'k') return 'keep';
  if (answer !== 'w') return answer === 'c' ? 'change' : 'change-all';
  const written = await prompts.text({ message: 'What is to stand there?', initial: proposal ?? found });
  return written === undefined ? 'stop' : { text: written };
}
