import { basename, dirname } from 'node:path';
import { extendPlatform, type ExtendedPlatform } from '../../core/learning/extend-platform.ts';
import type { ChangePlan } from '../../core/changes/plan.ts';
import { UsageError } from '../../core/errors.ts';
import { count } from '../../core/text/sentence.ts';
import type { Context } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { diffText } from '../output/diff-text.ts';
import { refusedText, supportText } from '../output/support-text.ts';
import { placeOf, refusedResult, strangersFor, type PlatformWishes } from './platform-new.ts';

/** Adds to a platform file what further themes teach; the lines that are there stay. */
export async function extendPlatformFile(
  context: Context,
  name: string,
  folders: readonly string[],
  options: PlatformWishes,
): Promise<ExitStatus> {
  const unusable = (['name', 'title', 'out', 'kit'] as const).find((option) => options[option] !== undefined);
  if (unusable !== undefined)
    throw new UsageError({ what: `--${unusable} is for a new platform file, and ${name} is there`, hint: `leave --${unusable} out` });
  if (folders.length === 0) throw new UsageError({ what: `which themes should ${name} learn from?`, hint: `name their folders behind it` });
  const platform = context.platformNamed(/[/\\]/.test(name) ? name : `./${name}`);
  const place = placeOf(context, folders);
  const extended = extendPlatform(platform, { ...place, strangers: strangersFor(context, [platform]) });
  const file = context.path(name);
  const plan: ChangePlan = {
    title: `platform new ${name}`,
    root: dirname(file),
    isNewRoot: false,
    operations: [{ op: 'edit', path: basename(file), before: Buffer.from(platform.source.text), bytes: Buffer.from(extended.text) }],
  };
  if (extended.added.length > 0) context.say(`${diffText(plan, context.paint)}\n`);
  sayExtended(context, name, extended, place.themes.length);
  const isApplied =
    extended.added.length > 0 && (await isConfirmed(context, options, `Add ${count(extended.added.length, 'line')} to ${name}?`));
  if (isApplied) {
    await context.apply(plan);
    context.say(`${context.paint.good('✓')} ${name} is written; “pionero undo” reverts it.`);
  }
  context.result({
    file,
    themes: place.themes.map(({ id }) => id),
    added: extended.added,
    taken: extended.taken,
    refused: refusedResult(extended.refused),
    refusing: extended.refusing,
    applied: isApplied,
  });
  return extended.taken.length < extended.refused.length ? ExitStatus.findings : ExitStatus.ok;
}

function sayExtended(context: Context, name: string, { added, taken, refused, refusing }: ExtendedPlatform, all: number): void {
  const { paint } = context;
  if (added.length === 0) context.say(`Nothing to add: ${name} says all that ${count(all, 'theme')} ${all === 1 ? 'teaches' : 'teach'}.`);
  const mark = refused.length === 0 ? paint.good('✓') : paint.warn('▲');
  context.say(`${mark} ${added.length > 0 ? 'With these lines it' : 'It'} takes ${taken.length} of the ${all} themes without an error.`);
  for (const line of refusedText(refused, paint)) context.say(line);
  if (refusing.length === 0) return;
  context.say('  Lines of the file that refuse them; they stay as they are:');
  for (const line of supportText(refusing, paint)) context.say(line);
}
