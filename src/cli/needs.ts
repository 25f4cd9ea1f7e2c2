import type { Need, NeedAnswer } from '../core/scaffold/needs.ts';
import type { TakingNote } from '../core/scaffold/take.ts';
import type { Theme } from '../core/theme/theme.ts';
import { count, plural } from '../core/text/sentence.ts';
import type { ChangeOptions, Context } from './command.ts';
import { choice, type Values } from './option.ts';
import { promptsFor } from './prompts.ts';
import { isForced } from './proof-gate.ts';

/** The option of commands that copy files of a parent. */
export const needsOption = {
  needs: choice(
    ['take', 'address'] satisfies readonly NeedAnswer[],
    'HOW',
    'what to do about the parent’s files that a copy asks for: take copies, or address the parent’s',
  ),
};
export type NeedsOptions = Values<typeof needsOption>;

/** Plans copies; on a terminal, asks what to do about what they need, and plans again. */
export async function answeringNeeds<T extends { readonly needs: readonly Need[] }>(
  context: Context,
  { needs: answer, yes, dryRun }: NeedsOptions & ChangeOptions,
  plan: (answer?: NeedAnswer) => Promise<T> | T,
): Promise<T> {
  const planned = await plan(answer);
  if (planned.needs.length === 0 || answer !== undefined || yes || dryRun || !context.io.isInteractive || context.isMachine) return planned;
  showNeeds(context, planned.needs);
  const of = [...new Set(planned.needs.map(({ theme }) => theme))].join(' and ');
  const chosen = await (
    await promptsFor(context.io)
  ).choose<NeedAnswer | 'stop'>('What about them?', [
    { value: 'take', label: 'take copies of them along' },
    ...(planned.needs.some(({ canAddress }) => canAddress)
      ? [{ value: 'address' as const, label: `address the files of ${of} from the copies` }]
      : []),
    { value: 'stop', label: 'stop: change nothing' },
  ]);
  return chosen === 'take' || chosen === 'address' ? plan(chosen) : planned;
}

/** Whether copies may be written although files are missing that they ask for. Says which, and how to get them. */
export function mayLack(context: Context, options: { readonly force: boolean }, id: string, needs: readonly Need[]): boolean {
  if (needs.length === 0) return true;
  const { paint } = context;
  showNeeds(context, needs);
  if (options.force) return isForced(context, options);
  const canAddress = needs.some((each) => each.canAddress);
  context.warn(
    `${paint.bad('✗')} Nothing was written: ${id} would lack ${plural(needs.length, 'it', 'them')}.\n` +
      `  ${paint.name('→')} --needs take copies ${plural(needs.length, 'it', 'them')} too` +
      (canAddress ? `; --needs address leads the copies to the parent’s ${plural(needs.length, 'file', 'files')}` : ''),
  );
  return false;
}

function showNeeds(context: Context, needs: readonly Need[]): void {
  const { paint } = context;
  context.warn(`${paint.warn('▲')} The copies ask for ${count(needs.length, 'file')} that the host does not take from the parent:`);
  for (const { path, theme, by } of needs) {
    const [first] = by;
    const more = by.length > 1 ? ` and ${count(by.length - 1, 'more place')}` : '';
    context.warn(`  ${path}  ${paint.faint(`${theme} has it; ${first?.file}:${first?.line}:${first?.column}${more}`)}`);
  }
}

/** A need as JSON has it. */
export function needJson({ path, theme, by, canAddress }: Need): object {
  return { path, theme, canAddress, by: by.map(({ file, line, column }) => ({ file, line, column })) };
}

/** What there is to say of a file that was taken. */
export function noteText(note: TakingNote, theme: Theme, { paint }: Context): string {
  const mark = paint.warn('▲');
  if (note.code === 'address-changed') return `${mark} ${note.file}: “${note.from}” became “${note.to}”, so that it still leads there`;
  const { 'sheets-fact': sheets } = theme.platform.contract.assets;
  const other =
    sheets === undefined
      ? 'to add to it only, put your rules into a stylesheet of another name'
      : `to add to it only, put your rules into a stylesheet of another name, and list it: pionero meta set ${theme.names.id} ${sheets}+=PATH`;
  return `${mark} ${note.file} takes the place of ${note.theme}’s as a whole: what you take out of it is gone from the pages; ${other}`;
}
