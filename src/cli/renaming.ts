import { setFlagsFromString } from 'node:v8';
import { choices, flag, text, texts, type Values } from './option.ts';
import { writeOutput } from '../core/changes/write-output.ts';
import { ConfigurationError, UsageError } from '../core/errors.ts';
import { readIfThere } from '../core/files/disk.ts';
import type { Decisions } from '../core/rename/decisions.ts';
import { readRenamePlan, writeRenamePlan, type SavedRename } from '../core/rename/plan-file.ts';
import { isSound, RenameProver } from '../core/rename/proof.ts';
import type { RenameWishes, ThemeRename } from '../core/rename/rename-theme.ts';
import { unheardWishes } from '../core/rename/unheard.ts';
import { nearest } from '../core/text/nearest.ts';
import { shellWord } from '../core/text/shell-word.ts';
import { SourceDocument } from '../core/text/source-document.ts';
import type { OpenedTheme } from '../core/theme/open.ts';
import { type Context, changeOptions, jobsOption } from './command.ts';
import { isConfirmed } from './confirm.ts';
import { ExitStatus } from './exit-status.ts';
import { decisionText, outcomeText, renameJson, renameText } from './output/rename-text.ts';
import { warnOfName } from './name-warning.ts';
import { reviewPlaces, REVIEWABLE } from './review.ts';
import { forceOption, isForced } from './proof-gate.ts';
import { reasonText } from './output/reason-text.ts';
import { KEPT_GROUPS } from '../core/rename/reason.ts';
import { didYouMean } from '../core/text/sentence.ts';

/** From so many files on, memory counts for more than time. */
const MANY_FILES = 10_000;

/** Options of the commands that give a theme another name. */
export const renameOptions = {
  title: text('TEXT', 'the new title; default: derived from the id'),
  vendor: text('NAME', 'who makes it, on platforms that have vendors'),
  titleOnly: flag('change the title and leave the id as it is'),
  keep: texts('PATTERN', 'a text or a file in which the old name stays, * is a wildcard; repeatable'),
  include: texts('CLASS|TEXT', `also change: unsure, ${KEPT_GROUPS.join(', ')}, or a text; repeatable`),
  review: flag('ask for what is unsure, once for each identifier'),
  reviewAlso: choices(REVIEWABLE, 'CLASS', 'ask for places of this class as well; repeatable'),
  planOut: text('FILE', 'save the plan to a file, to be changed and applied with --plan'),
  plan: text('FILE', 'apply a saved plan'),
  ...jobsOption,
  ...forceOption,
  ...changeOptions,
};
export type RenameOptions = Values<typeof renameOptions>;

/** How a command plans its rename, and what it says when that is done. */
interface Renaming {
  plan(wishes: RenameWishes): Promise<ThemeRename | undefined>;
  readonly done: (rename: ThemeRename) => string;
  readonly question: (rename: ThemeRename) => string;
}

/** The way that clone and rename share: plan, review, show, ask, apply, prove. */
export async function carryOutRename(
  context: Context,
  source: OpenedTheme,
  id: string | undefined,
  options: RenameOptions,
  renaming: Renaming,
): Promise<ExitStatus> {
  // Every place of a large theme is kept until it is shown: memory is collected when a quarter more is in use, not when twice as much is.
  if (source.theme.tree.entries.length > MANY_FILES) setFlagsFromString('--heap-growing-percent=25');
  const saved = options.plan === undefined ? undefined : savedPlan(context, options.plan, source, id);
  const wishes = wishesOf(source, id, options, saved);
  let rename = await renaming.plan(wishes);
  if (rename === undefined) {
    context.say(`${source.theme.names.id} already has that name: there is nothing to change.`);
    context.result({ applied: false });
    return ExitStatus.ok;
  }
  saved?.assertFollowed(rename);
  sayUnheard(context, rename, options);
  if (rename.edits.length + rename.moves.length + rename.rebuilt.length === 0 && rename.plan.replaces === rename.plan.root) {
    context.say(`There is nothing to change: ${source.theme.names.id} holds nothing of “${rename.from.id}” that is its own.`);
    context.result(renameJson(rename, undefined, false));
    return ExitStatus.ok;
  }
  if (options.review || options.reviewAlso.length > 0) {
    const decisions: Decisions = await reviewPlaces(context, rename, options.reviewAlso);
    rename = (await renaming.plan({ ...wishes, decisions: new Map([...(wishes.decisions ?? []), ...decisions]) })) ?? rename;
  }
  if (rename.own !== undefined && source.theme.names.id !== rename.own.id)
    context.say(
      `${context.paint.warn('▲')} This folder is called ${source.theme.names.id}, the theme calls itself ${rename.own.id}: that is the name that is replaced.\n`,
    );
  const view = { isVerbose: context.options.verbose, columns: context.io.columns };
  context.say(renameText(rename, context.paint, view));
  // A copy is meant to be like its original; only others count.
  if (rename.to.id !== rename.from.id) await warnOfName(context, rename.to.id, rename.theme.platform, rename.shelves);
  if (options.planOut !== undefined && !options.dryRun) return savePlan(context, rename, options.planOut);
  const prover = new RenameProver(rename);
  let proof = prover.provePlan();
  const isProved = isSound(proof);
  // A user who is asked sees the proof of the plan; otherwise the proof of the written files, unless they cannot be written so.
  if (options.dryRun || !options.yes || !isProved) context.say(decisionText(rename, proof, context.paint));
  const isWanted = (isProved || isForced(context, options)) && (await isConfirmed(context, options, renaming.question(rename)));
  if (isWanted) {
    await context.applyAll([rename.plan, ...(rename.children ?? []).map(({ plan }) => plan)]);
    proof = prover.proveApplied(proof);
    context.say(outcomeText(rename, proof, renaming.done(rename), context.paint));
  }
  context.result(renameJson(rename, proof, isWanted));
  const isClean = isSound(proof);
  return isClean ? ExitStatus.ok : ExitStatus.findings;
}

/** @throws UsageError when something is to be taken in that is nowhere */
function sayUnheard(context: Context, rename: ThemeRename, { include, keep }: RenameOptions): void {
  const [first] = unheardWishes(rename, include);
  if (first !== undefined) {
    const near = nearest(first, [...KEPT_GROUPS, 'unsure']);
    throw new UsageError({
      what: `--include ${shellWord(first)} matches nothing in ${rename.source.theme.names.id}`,
      why: `it is neither one of ${KEPT_GROUPS.join(', ')} nor a text or file that holds the name`,
      hint: didYouMean(near, 'leave it out, or name a text as it stands in a file'),
    });
  }
  for (const each of unheardWishes(rename, keep))
    context.warn(`${context.paint.warn('▲')} --keep ${shellWord(each)} matches nothing: no such text or file holds the name.`);
}

function wishesOf(source: OpenedTheme, id: string | undefined, options: RenameOptions, saved: SavedRename | undefined): RenameWishes {
  const { rename } = source.configuration;
  if (options.titleOnly && options.title === undefined)
    throw new UsageError({ what: '--title-only needs the new title', hint: 'add --title TEXT' });
  if (options.titleOnly && id !== undefined && id !== source.theme.names.id)
    throw new UsageError({ what: `--title-only leaves the id as it is, so it cannot become “${id}”`, hint: 'leave one of them out' });
  return {
    id: options.titleOnly ? undefined : (id ?? saved?.to.id),
    title: options.title ?? saved?.to.title,
    vendor: options.vendor ?? saved?.to.vendor,
    keep: [...options.keep, ...rename.keep],
    include: [...options.include, ...rename.include],
    decisions: saved?.decisions,
    jobs: options.jobs,
  };
}

/** @throws ConfigurationError when the file is not a plan; RefusedError when the theme has changed since */
function savedPlan(context: Context, file: string, source: OpenedTheme, wanted: string | undefined): SavedRename {
  const bytes = readIfThere(context.path(file));
  const text = bytes === undefined ? undefined : SourceDocument.decode(file, bytes);
  if (text === undefined) throw new ConfigurationError({ what: `there is no plan ${file}`, hint: 'save one with --plan-out' });
  const saved = readRenamePlan(text);
  const { id } = source.theme.names;
  if (saved.from.id !== id)
    throw new UsageError({
      what: `${file} is a plan for the theme “${saved.from.id}”, and this one is “${id}”`,
      hint: 'name the theme that it was made for',
    });
  if (wanted !== undefined && wanted !== saved.to.id)
    throw new UsageError({
      what: `${file} is a plan for the new id “${saved.to.id}”, and not for “${wanted}”`,
      hint: `leave the id out, or save a plan for ${shellWord(wanted)} with --plan-out`,
    });
  saved.assertUnchanged(source.theme.tree);
  return saved;
}

async function savePlan(context: Context, rename: ThemeRename, file: string): Promise<ExitStatus> {
  await writeOutput(context.path(file), Buffer.from(writeRenamePlan(rename, reasonText)), context.journal);
  context.say(`The plan is saved in ${context.shown(context.path(file))}; nothing else was written. Apply it with --plan ${file}`);
  context.result(renameJson(rename, undefined, false));
  return ExitStatus.ok;
}
