import { UsageError } from '../core/errors.ts';
import { placeKey, type Decisions } from '../core/rename/decisions.ts';
import { groupPlaces, nameOfGroup } from '../core/rename/place-groups.ts';
import type { Place } from '../core/rename/places.ts';
import type { ThemeRename } from '../core/rename/rename-theme.ts';
import type { Context } from './command.ts';
import { promptsFor } from './prompts.ts';
import { reasonText } from './output/reason-text.ts';
import { count, plural } from '../core/text/sentence.ts';

/** The classes of places that can be gone through. */
export const REVIEWABLE = ['path', 'identifier', 'text', 'kept'] as const;
type Reviewable = (typeof REVIEWABLE)[number];

/** Places that someone has to decide on, all of them at once: they say the same. */
interface OpenGroup {
  readonly identifier: string;
  /** The name of the group: it can be of several identifiers that differ by a number. */
  readonly name: string;
  readonly found: string;
  readonly places: readonly OpenPlace[];
  /** What groups of the same sort have in common. */
  readonly code: string;
  readonly reason: string;
  /** The text that would stand there; undefined when that is unknown. */
  readonly proposal: string | undefined;
}

interface OpenPlace {
  readonly key: string;
  readonly where: string;
  /** The identifier in the line. */
  readonly marked: string;
  readonly line: string;
}

/** So many places of a group are shown before the question. */
const SHOWN = 3;

/**
 * Walks through what is to be decided on the terminal: one question, and one key, for each identifier.
 * @throws UsageError when nobody can be asked
 */
export async function reviewPlaces(context: Context, rename: ThemeRename, also: readonly Reviewable[]): Promise<Decisions> {
  const groups = openGroups(rename, also);
  const all = groups.reduce((sum, { places }) => sum + places.length, 0);
  if (!context.io.isInteractive || context.isMachine) {
    throw new UsageError({
      what: `${count(all, 'place')} ${plural(all, 'is', 'are')} to be reviewed, and nobody can be asked here`,
      hint: 'take them in with --include, or save the plan with --plan-out, change it and apply it with --plan',
    });
  }
  const decisions = new Map<string, string | null>();
  const decide = ({ places, proposal }: OpenGroup, answer: Answer): void => {
    const text = answer === 'keep' ? null : typeof answer === 'object' ? answer.text : proposal;
    if (text !== undefined) for (const { key } of places) decisions.set(key, text);
  };
  const open = [...groups];
  for (let i = 0; i < open.length; i++) {
    const group = open[i];
    if (group === undefined) break;
    const answer = await ask(context, group, `${i + 1} of ${open.length}`);
    if (answer === 'stop') break;
    if (answer === 'single') open.splice(i + 1, 0, ...group.places.map((place) => ({ ...group, places: [place] })));
    else decide(group, answer);
    if (answer !== 'change-all') continue;
    const same = open.slice(i + 1).filter(({ code, proposal }) => code === group.code && proposal !== undefined);
    for (const each of same) decide(each, answer);
    open.splice(i + 1, open.length, ...open.slice(i + 1).filter((each) => !same.includes(each)));
  }
  context.say(context.paint.faint(`${decisions.size} of ${count(all, 'place')} decided.`));
  return decisions;
}

function openGroups({ edits, kept, unsure }: ThemeRename, also: readonly Reviewable[]): OpenGroup[] {
  const staying = groupPlaces(
    // What seems to be others’ is asked about, too: nobody but the author knows.
    [...unsure, ...kept.filter(({ reason }) => also.includes('kept') || reason.group === 'theirs')],
    ({ reason, proposal }) => `${reason.code} ${proposal}`,
  ).map((group): OpenGroup => {
    const { found = '', reason, proposal } = group.places[0] ?? {};
    const places = group.places.map((place) => openPlace(place, place.text));
    const why = reason === undefined ? '' : reasonText(reason);
    return { identifier: group.identifier, name: nameOfGroup(group), found, places, code: reason?.code ?? '', reason: why, proposal };
  });
  const changing = groupPlaces(
    edits.filter(({ kind }) => (also as readonly string[]).includes(kind)),
    ({ kind, becomes }) => `${kind} ${becomes}`,
  ).map((group): OpenGroup => {
    const { found = '', kind = '', becomes } = group.places[0] ?? {};
    const places = group.places.map((place) => openPlace(place, place.before));
    return { identifier: group.identifier, name: nameOfGroup(group), found, places, code: kind, reason: kind, proposal: becomes };
  });
  return [...staying, ...changing];
}

function openPlace({ was, identifier }: Place, line: string): OpenPlace {
  const where = was.line === 0 ? was.file : `${was.file}:${was.line}:${was.column}`;
  return { key: placeKey(was.file, was), where, marked: identifier, line };
}

type Answer = 'keep' | 'change' | 'change-all' | 'single' | 'stop' | { readonly text: string };

async function ask(
  { io, paint }: Context,
  { identifier, name, found, places, reason, proposal }: OpenGroup,
  number: string,
): Promise<Answer> {
  const prompts = await promptsFor(io);
  const files = new Set(places.map(({ where }) => where.replace(/:\d+:\d+$/, ''))).size;
  const size = places.length === 1 ? '' : ` · ${count(places.length, 'place')} in ${count(files, 'file')}`;
  const lines = places
    .slice(0, SHOWN)
    .map(({ where, line, marked }) => `  ${paint.faint(where)}  ${line.replace(marked, () => paint.strong(marked))}`);
  const rest = places.length > SHOWN ? [paint.faint(`  … and ${places.length - SHOWN} more`)] : [];
  const head = `${paint.faint(`${number} · `)}${paint.strong(name)}${paint.faint(`${size} · ${reason}`)}`;
  const all = places.length === 1 ? '' : places.length === 2 ? ' in both places' : ` in all ${places.length} of them`;
  const answer = await prompts.chooseKey([head, ...lines, ...rest].join('\n'), [
    ...(proposal === undefined
      ? []
      : [
          { value: 'c' as const, label: `change to ${identifier.replace(found, () => proposal)}${all}` },
          { value: 'a' as const, label: 'change this and all the rest for the same reason' },
        ]),
    { value: 'k' as const, label: `keep${all}` },
    { value: 'w' as const, label: `write something else in place of ${found}` },
    ...(places.length === 1 ? [] : [{ value: 'o' as const, label: 'decide place by place' }]),
    { value: 's' as const, label: 'stop here; the rest stays as proposed' },
  ]);
  if (answer === undefined || answer === 's') return 'stop';
  if (answer === 'k') return 'keep';
  if (answer === 'o') return 'single';
  if (answer !== 'w') return answer === 'c' ? 'change' : 'change-all';
  const written = await prompts.text({ message: 'What is to stand there?', initial: proposal ?? found });
  return written === undefined ? 'stop' : { text: written };
}
