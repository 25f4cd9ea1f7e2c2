import { basename } from 'node:path';
import { isBelow, pathFrom } from '../../core/files/paths.ts';
import { RefusedError, UsageError } from '../../core/errors.ts';
import { isInKits, isNeeded } from '../../core/platform/platform.ts';
import { findThemes, isTheme } from '../../core/theme/find-themes.ts';
import { wantedSize } from '../../core/covers/wanted-size.ts';
import { shellWord } from '../../core/text/shell-word.ts';
import { fillShape } from '../../core/names/shape.ts';
import { findKit } from '../../core/scaffold/kits.ts';
import type { Leftover } from '../../core/rename/second-scan.ts';
import { planNewTheme, type NewTheme } from '../../core/scaffold/new-theme.ts';
import { defineCommand, type Context } from '../command.ts';
import { isConfirmed, isFolderWanted } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { findingJson } from '../output/json.ts';
import { findingsText, headline } from '../output/findings-text.ts';
import { plainFacts } from '../../core/facts/plain-facts.ts';
import { diffText } from '../output/diff-text.ts';
import { treeText } from '../output/tree-text.ts';
import { readUserStart } from '../../core/configuration/user-configuration.ts';
import { startFacts, type StartFact } from '../../core/scaffold/start-facts.ts';
import { userConfigurationFile } from '../own-folders.ts';
import { openSource, sayLeftBehind } from '../theme-argument.ts';
import type { Platform } from '../../core/platform/platform.ts';
import { isOneFile, placeOfFolder } from '../../core/theme/place.ts';
import type { Shelves } from '../../core/theme/shelf.ts';
import { bytes } from '../output/paint.ts';
import { promptsFor } from '../prompts.ts';
import { answeringNeeds, mayLack, needJson, noteText } from '../needs.ts';
import { isForced, isHarmless } from '../proof-gate.ts';
import { warnOfName } from '../name-warning.ts';
import { lookAround, MOST_FOLDERS, type Workspace } from '../workspace.ts';
import { askForNewTheme, newOptions, type NewOptions } from './new-questions.ts';
import { count, listed } from '../../core/text/sentence.ts';

export default defineCommand({
  arguments: [{ form: '[id]', about: 'the theme’s id, used in code and as its folder’s name' }],
  options: newOptions,
  examples: [
    'pionero new cierzo --platform vereda',
    'pionero new cierzo --platform vereda --parent albar --shelf demo/shelf --title "Refugio Cierzo" --yes',
    'pionero new cierzo --parent albar --take front --take partials/header.html --needs take',
    'pionero new cierzo --platform vereda --kit standard --without menu --like albar',
    'pionero new --here --platform vereda',
  ],
  async run(context, args, options) {
    const around = lookAround(context, options.parent);
    const isHere = await isMeantHere(context, args[0], options, around);
    const here = isHere ? context.io.folder : undefined;
    if (here !== undefined) refuseShelf(context, here);
    let into = here === undefined ? intoFor(context, options, around) : context.path('..');
    const extra = [...new Set([...around.near.map(({ shelf }) => shelf)])];
    const shelvesOf = (platform: Platform): Shelves => context.shelvesOf(platform, into, ...extra);
    const { title, kit: kitWanted } = options;
    const known = {
      facts: {},
      id: args[0] ?? (here === undefined ? undefined : basename(here)),
      title,
      vendor: options.vendor,
      kit: kitWanted,
      parent: parentId(context, options, around),
      platform: context.options.platform === undefined ? undefined : context.platformNamed(context.options.platform),
    };
    const answers = await askForNewTheme(context, known, { options, around, shelvesOf });
    if (answers.isForOther === true) return context.runLine(['platform', 'new'], context.io);
    const platform = answers.platform ?? onlyPlatform(context, around, options.parent);
    if (here !== undefined && isOneFile(platform))
      throw new UsageError({
        what: `a theme for ${platform.contract.title} is one file, so there is no folder to complete`,
        hint: 'leave --here out',
      });
    const id = answers.id;
    if (id === undefined)
      throw new UsageError({
        what: 'the id of the new theme is missing',
        hint: `for example: pionero new cierzo; ${platform.contract.id.grammar}`,
      });
    if (here !== undefined && id !== basename(here)) {
      throw new UsageError({
        what: `--here works on the folder ${basename(here)}, which cannot hold a theme called “${id}”`,
        hint: 'leave the id out',
      });
    }
    const shelves = shelvesOf(platform);
    const parent = answers.parent === '' ? undefined : answers.parent;
    const parentFolder = parent === undefined ? undefined : shelves.find(parent)?.folder;
    const beside = parentFolder === undefined || options.to !== undefined || here !== undefined ? undefined : parentFolder;
    if (beside !== undefined) into = placeOfFolder(platform, beside).shelf;
    if (!options.dryRun && here === undefined && !(await isFolderWanted(context, into, options))) return ExitStatus.ok;
    const kit = await findKit({ platform, parentFolder, shelves, parts: options.without }, answers.kit, parent !== undefined);
    sayLeftBehind(context, kit.from, kit.leftBehind);
    const yours = readUserStart(userConfigurationFile(context.io.env), platform.contract.name);
    const like = options.like === undefined ? undefined : await openSource(options.like, context);
    const shelved = parent === undefined ? undefined : shelves.find(parent);
    const starts = startFacts({
      platform,
      given: parseFacts(options.set),
      asked: answers.facts,
      yours: yours.facts,
      like: like?.theme,
      parent: shelved === undefined ? undefined : shelves.open(shelved),
      hosts: kit.theme.text('hosts'),
    });
    const facts = Object.fromEntries(starts.map(({ fact, value }) => [fact, value]));
    const vendor = answers.vendor ?? (platform.contract.vendor === undefined ? undefined : yours.vendor);
    const request = {
      platform,
      kit,
      id,
      title: answers.title,
      vendor,
      parent,
      facts,
      without: options.without,
      only: options.only,
      take: options.take,
      keptWords: options.keepWord,
      now: context.io.now(),
      kitNames: [...options.kitName, ...(answers.kitNames ?? [])],
      shelves,
      into,
      here,
    };
    const planned = await answeringNeeds(context, options, (needs) => planNewTheme({ ...request, needs }));
    const what = `${planned.plan.title}: ${parent === undefined ? 'a theme' : `a child of ${parent}`} for ${platform.contract.title}, from the kit “${kit.name}”`;
    showPlan(context, planned, what);
    if (here === undefined) await warnOfName(context, planned.theme.names.id, platform, shelves);
    showFacts(context, starts, { like: options.like, parent });
    if (options.without.length + options.only.length > 0) showLacks(context, planned);
    const created = planned.plan.operations.filter((operation) => operation.op !== 'folder').map((operation) => operation.path);
    const left = planned.names.length === 0 ? [] : planned.leftovers();
    const isFit =
      created.length > 0 &&
      mayLack(context, options, planned.theme.names.id, planned.needs) &&
      isNewSound(context, options, planned, left, kit.theme.names.id);
    const isApplied = isFit && (await isConfirmed(context, options, 'Make it?'));
    if (isApplied) {
      await context.apply(planned.plan);
      showOutcome(context, planned, left, kit.theme.names.id);
    } else if (isFit && options.without.length + options.only.length === 0) showFindings(context, planned);
    const { broken: newFindings, needs } = planned;
    context.result({
      ...{ theme: plainFacts(planned.theme), kit: kit.name, created },
      ...{ leftovers: left, needs: needs.map(needJson), newFindings: newFindings.map(findingJson), applied: isApplied },
    });
    const isClean = left.length === 0 && planned.findings.every((finding) => finding.severity !== 'error');
    return isClean ? ExitStatus.ok : ExitStatus.findings;
  },
});

/** The id of the parent, that can be given by its folder too. */
function parentId(context: Context, { parent }: NewOptions, { near }: Workspace): string | undefined {
  return parent === undefined ? undefined : (near.find(({ folder }) => folder === context.path(parent))?.id ?? parent);
}

/** Where a theme is made that nobody gave a place, and that has no parent whose place tells. */
function intoFor(context: Context, { to }: NewOptions, around: Workspace): string {
  if (to !== undefined) return context.path(to);
  return isBelow(context.io.folder, around.into) || context.io.isInteractive ? around.into : context.io.folder;
}

/**
 * Whether the theme is made in the current folder: asked for, or an empty folder where a theme belongs.
 * @throws UsageError when the folder has the new theme’s name, and nobody can be asked
 */
async function isMeantHere(context: Context, id: string | undefined, options: NewOptions, around: Workspace): Promise<boolean> {
  if (options.here || options.to !== undefined) return options.here;
  const own = basename(context.io.folder);
  if (around.isPlace) return id === undefined || id === own;
  if (id !== own) return false;
  if (!context.io.isInteractive || options.yes || context.isMachine)
    throw new UsageError({
      what: `you are in a folder called ${own} already`,
      hint: `complete it with “pionero new --here”, or make ${own}/${own} with --to .`,
    });
  return (await (await promptsFor(context.io)).confirm(`You are in a folder called ${own}. Make the theme of its files?`)) ?? false;
}

/** @throws RefusedError when a folder is not a theme’s to be: it holds themes, and what is completed would be theirs */
function refuseShelf(context: Context, folder: string): void {
  const inside = findThemes(folder, context.platforms(), MOST_FOLDERS).themes.filter((theme) => !isInKitsOf(context, folder, theme));
  if (inside.length === 0) return;
  const shown = inside.map((theme) => context.shown(theme));
  throw new RefusedError({
    what: `this folder holds themes (${listed(shown, 3)}), so it cannot become one itself`,
    why: '--here completes the current folder, and would change the files of these themes',
    hint: 'leave --here out to make the theme beside them',
  });
}

/** Whether a theme lies where a parent keeps its kits, as it does in the folder that is completed. */
function isInKitsOf(context: Context, folder: string, theme: string): boolean {
  const local = pathFrom(folder, theme);
  return context.platforms().some((platform) => isTheme(folder, [platform]) && isInKits(platform, `${local}/x`));
}

/** The platform that the themes around here tell. @throws UsageError when they tell none, or several */
function onlyPlatform(context: Context, { near: themes, platforms }: Workspace, parent: string | undefined): Platform {
  const [near, ...more] = platforms;
  if (near !== undefined && more.length === 0) return near;
  const all = context.platforms();
  const [first, ...others] = all;
  if (first !== undefined && others.length === 0) return first;
  if (parent !== undefined && themes.every(({ id }) => id !== parent))
    throw new UsageError({
      what: `there is no theme “${parent}” around here to be the parent`,
      hint:
        themes.length > 0
          ? `there are ${listed([...new Set(themes.map(({ id }) => id))], 8)}; or name the folder of themes that it lies in with --shelf`
          : 'name its folder, or the folder of themes that it lies in with --shelf; a parent that the host brings needs --platform',
    });
  const names = (platforms.length > 1 ? platforms : all).map(({ contract }) => contract.name);
  throw new UsageError({
    what: platforms.length > 1 ? 'the themes around here are for several platforms' : 'the platform is missing',
    hint: `name it with --platform: ${names.join(', ')}; if yours is not among them: “pionero platform new”`,
  });
}

/** @throws UsageError when one is not of the form fact=value */
function parseFacts(pairs: readonly string[]): Record<string, string> {
  return Object.fromEntries(
    pairs.map((pair) => {
      const at = pair.indexOf('=');
      if (at < 1)
        throw new UsageError({
          what: `“${pair}” is not of the form fact=value`,
          hint: 'for example: --set summary="A warm theme for huts"',
        });
      return [pair.slice(0, at).trim(), pair.slice(at + 1)];
    }),
  );
}

function showPlan(context: Context, { plan, theme, names, removed, taken, notes }: NewTheme, what: string): void {
  const { paint } = context;
  const lines = plan.operations.flatMap((operation) =>
    operation.op === 'edit'
      ? []
      : [
          {
            path: operation.path,
            size: operation.op === 'create' ? operation.size : undefined,
          },
        ],
  );
  context.say(`${paint.strong(what)}\n`);
  if (plan.operations.length === 0) context.say('Nothing is missing: every file of the kit is here, and says what it must.');
  if (plan.isFile === true) context.say(`${paint.name(context.shown(plan.root))}  ${paint.faint(bytes(lines[0]?.size ?? 0))}\n`);
  else if (lines.length > 0) context.say(`${paint.name(`${context.shown(plan.root)}/`)}\n${treeText(lines, paint)}\n`);
  const diff = diffText(plan, paint);
  if (diff !== '') context.say(`${diff}\n`);
  if (names.length > 0)
    context.say(
      `Replaced as well: ${names.map(({ text, evidence }) => `${paint.strong(text)} ${paint.faint(`(${evidence})`)}`).join(', ')}`,
    );
  for (const { file, theme, from } of taken)
    context.say(
      `Taken: ${file} from ${theme}${from === file ? '' : `, where it is ${from}`}; what ${theme} changes there later does not reach this theme`,
    );
  for (const note of notes) context.say(noteText(note, theme, context));
  for (const { file, line, text } of removed)
    context.say(`Deleted, as the kit says: ${file}:${line}\n${text.replaceAll(/^/gm, `  ${paint.bad('−')} `)}`);
  if (names.length + removed.length + taken.length > 0) context.say('');
}

/** Facts that nobody typed here, and where they come from. */
function showFacts(
  context: Context,
  starts: readonly StartFact[],
  { like, parent }: { like?: string | undefined; parent?: string | undefined },
): void {
  const from = { given: '', asked: '', yours: 'your configuration', like: `like ${like}`, parent: `the parent ${parent}` };
  const own = starts.filter((each) => from[each.from] !== '');
  if (own.length === 0) return;
  const { paint } = context;
  context.say(
    `Facts: ${own.map((each) => `${each.fact} ${paint.strong(each.value)} ${paint.faint(`(${from[each.from]})`)}`).join(', ')}\n`,
  );
}

/** Warns before anything is written when the files that stay need one that is left out. */
function showLacks(context: Context, { findings }: NewTheme): void {
  if (findings.length === 0) return;
  context.warn(`What is left out is missed:\n\n${findingsText(findings, context.paint, context.io.columns)}\n`);
}

/** Whether the new theme may be written: nothing of the kit’s names is left in it, and it has no error that the kit does not have. */
function isNewSound(context: Context, options: NewOptions, planned: NewTheme, left: readonly Leftover[], kitName: string): boolean {
  const { paint } = context;
  const { broken, theme } = planned;
  if (left.length > 0)
    context.warn(
      `${paint.bad('✗')} Left of ${namesOfKit(planned, kitName)}:\n${left.map(({ file, line, column, text }) => `  ${file}:${line}:${column}  ${text}`).join('\n')}\n`,
    );
  if (broken.length > 0) return isHarmless(context, options, theme.names.id, broken);
  return left.length === 0 || isForced(context, options);
}

function namesOfKit({ names }: NewTheme, kitName: string): string {
  return [kitName, ...names.map(({ text }) => text)].map((text) => `“${text}”`).join(', ');
}

/** Shows the findings that a check of the new theme would report. */
function showFindings(context: Context, { theme, findings }: NewTheme): void {
  if (findings.length === 0) return;
  const { paint, io } = context;
  const result = { findings, files: theme.tree.entries.filter(({ kind }) => kind === 'file').length };
  context.warn(
    `\n${headline({ id: theme.names.id, platform: theme.platform.contract, result }, paint)}\n\n${findingsText(findings, paint, io.columns)}`,
  );
}

function showOutcome(context: Context, planned: NewTheme, left: readonly Leftover[], kitName: string): void {
  const { plan, theme, names } = planned;
  const { paint } = context;
  const edited = plan.operations.filter(({ op }) => op === 'edit').length;
  const files = plan.operations.filter(({ op }) => op !== 'folder').length - edited;
  const changed = edited === 0 ? '' : ` and ${edited} changed`;
  const done = plan.isNewRoot ? `is made: ${count(files, 'file')}` : `is complete: ${count(files, 'file')} added${changed}`;
  context.say(`${paint.good('✓')} ${theme.names.id} ${done} in ${context.shown(plan.root)}; “pionero undo” reverts it.`);
  if (names.length > 0 && left.length === 0)
    context.say(`${paint.good('✓')} A second scan found nothing of ${namesOfKit(planned, kitName)} left.`);
  showFindings(context, planned);
  const { images, 'next-steps': next } = theme.platform.contract;
  const picture = images.find(({ path, recommended, required }) => {
    const isWanted = recommended || isNeeded(required, theme.isChild);
    return isWanted && theme.tree.get(fillShape(path, theme.names)) !== undefined;
  });
  const steps = next.new.map((step) => fillShape(step, theme.names));
  if (picture !== undefined) {
    const { width, height } = wantedSize(picture);
    const command = `pionero cover ${shellWord(context.shown(plan.root))}`;
    steps.push(
      `Replace ${fillShape(picture.path, theme.names)} by a picture of your theme (${width} × ${height} pixels): “${command}” draws one`,
    );
  }
  if (steps.length > 0) context.say(`\n${paint.strong('Next')}\n${steps.map((step, i) => `  ${i + 1}. ${step}`).join('\n')}`);
}
