import { flag, text, type Values } from '../option.ts';
import { UsageError } from '../../core/errors.ts';
import { fillShape } from '../../core/names/shape.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import { changelogOf } from '../../core/contents/changelog.ts';
import { withLicenseText } from '../../core/contents/license-file.ts';
import { licenseFiles } from '../../core/contents/third-party.ts';
import { setFacts, type FactChange } from '../../core/facts/set-facts.ts';
import { bumpVersion, findDisagreements, syncFacts, type VersionPart } from '../../core/facts/sync-facts.ts';
import type { Theme } from '../../core/theme/theme.ts';
import { offerLicenseText, yearOf } from '../license-offer.ts';
import { actionArgument, actionOf } from '../actions.ts';
import { defineCommand, type ActionFacts, type Context, changeOptions, jobsOption } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { forceOption, isHarmless } from '../proof-gate.ts';
import { findingJson } from '../output/json.ts';
import { plainFacts } from '../../core/facts/plain-facts.ts';
import { checkTargets } from '../check-targets.ts';
import { openThemes } from '../opened-themes.ts';
import { planFacts, planFactsOfAll } from '../fact-changes.ts';
import { dateOf, planBumps } from '../raising.ts';
import { showFacts } from '../show-facts.ts';
import { isThemePlace, openArgument } from '../theme-argument.ts';
import { count } from '../../core/text/sentence.ts';

const OPTIONS = {
  from: text('FILE', 'sync: the document that is right'),
  licenseText: flag('set: with license=, write the text of that license into the license file, too'),
  ...forceOption,
  ...jobsOption,
  ...changeOptions,
};
type Options = Values<typeof OPTIONS>;
type Action = (context: Context, words: readonly string[], options: Options) => Promise<ExitStatus>;

const ACTIONS: Readonly<Record<string, Action>> = { show: showFacts, set, sync, bump };

const CHANGING = ['force', 'dryRun', 'yes'];

/** The arguments and options of each. */
const FACTS: Readonly<Record<string, ActionFacts>> = {
  show: {
    about: 'show the facts of themes, and where each stands',
    arguments: [{ form: '[themes...]', about: 'themes, archives, or folders of themes; default: the current folder' }],
    options: ['jobs'],
    examples: ['pionero meta show cierzo', 'pionero meta show cierzo-1.2.0.zip --format json', 'pionero meta show themes'],
  },
  set: {
    about: 'change facts in every document that carries them',
    arguments: [
      { form: '<changes>', about: 'one or several: fact=value; of a list fact+=entry, fact-=entry' },
      { form: '[themes...]', about: 'themes, or folders of themes; default: the current folder' },
    ],
    options: ['licenseText', ...CHANGING],
    examples: [
      'pionero meta set cierzo version=1.3.0 title="Refugio Cierzo" tags+=dark tags-=wide',
      'pionero meta set author="Albar Hut League" themes',
      'pionero meta set license=MIT --license-text cierzo',
    ],
  },
  sync: {
    about: 'make the documents of a theme agree, where they carry one fact in several places',
    arguments: [{ form: '[themes...]', about: 'themes, or folders of themes; default: the current folder' }],
    options: ['from', ...CHANGING],
    examples: ['pionero meta sync cierzo --from sheet.css', 'pionero meta sync themes --dry-run'],
  },
  bump: {
    about: 'raise the version in every document, and begin its part of the changelog',
    arguments: [
      { form: '<part>', about: 'major, minor, patch', choices: ['major', 'minor', 'patch'] },
      { form: '[themes...]', about: 'themes, or folders of themes; default: the current folder' },
    ],
    options: CHANGING,
    examples: ['pionero meta bump minor cierzo', 'pionero meta bump patch themes --yes'],
  },
};

export default defineCommand({
  arguments: [
    actionArgument(FACTS),
    {
      form: '[words...]',
      about: 'changes (fact=value, fact+=entry, fact-=entry) or major, minor, patch; and themes, or folders of themes',
    },
  ],
  actions: FACTS,
  options: OPTIONS,
  examples: [
    'pionero meta show cierzo',
    'pionero meta set cierzo version=1.3.0 title="Refugio Cierzo" tags+=dark tags-=wide',
    'pionero meta sync cierzo --from sheet.css',
    'pionero meta set author="Albar Hut League" themes',
    'pionero meta bump minor cierzo',
  ],
  async run(context, args, options) {
    const [name = '', ...words] = args;
    return actionOf('meta', ACTIONS, name)(context, words, options);
  },
});

async function set(context: Context, words: readonly string[], options: Options): Promise<ExitStatus> {
  const changes = words.flatMap(parseChange);
  await refuseMissingSign(context, words);
  const [opened, ...others] = await themesOf(
    context,
    words.filter((word) => parseChange(word).length === 0),
    { isLenient: true },
  );
  if (changes.length === 0)
    throw new UsageError({ what: 'nothing to set', hint: 'for example: pionero meta set version=1.3.0 tags+=dark' });
  const title = `meta set ${changes.map((change) => change.fact).join(' ')}`;
  const isLicensed = changes.some(({ fact }) => fact === 'license');
  if (options.licenseText && !isLicensed)
    throw new UsageError({ what: '--license-text goes with license=', hint: 'for example: pionero meta set license=MIT --license-text' });
  const offer = await offerLicenseText(context, options, [opened, ...others], changes);
  const change = (theme: Theme): Theme => {
    const changed = setFacts(theme, changes);
    return offer.isTaken ? (withLicenseText(changed, yearOf(context)) ?? changed) : changed;
  };
  const status =
    others.length > 0
      ? await writeAll(context, [opened, ...others], change, title, options)
      : await write(context, opened, change(opened.theme), title, options);
  if (offer.note !== undefined) context.warn(offer.note);
  return status;
}

async function sync(context: Context, words: readonly string[], options: Options): Promise<ExitStatus> {
  const [opened, ...others] = await themesOf(context, words);
  if (others.length > 0) {
    const agreeing = (theme: Theme): Theme => syncFacts(theme, findDisagreements(theme, options.from));
    return writeAll(context, [opened, ...others], agreeing, 'meta sync', options);
  }
  const disagreements = findDisagreements(opened.theme, options.from);
  const { paint } = context;
  for (const { fact, says, chosen } of disagreements) {
    context.say(paint.strong(fact));
    for (const { file, value } of says)
      context.say(`  ${value === chosen ? paint.good('✓') : paint.bad('✗')} ${value}  ${paint.faint(file)}`);
  }
  if (disagreements.length > 0) return write(context, opened, syncFacts(opened.theme, disagreements), 'meta sync', options);
  context.say(`${paint.good('✓')} all documents of ${opened.theme.names.id} agree`);
  context.result({ theme: plainFacts(opened.theme), changes: [], applied: false });
  return ExitStatus.ok;
}

async function bump(context: Context, words: readonly string[], options: Options): Promise<ExitStatus> {
  const part = words.find((word): word is VersionPart => ['major', 'minor', 'patch'].includes(word));
  if (part === undefined)
    throw new UsageError({ what: 'which part of the version is to be raised?', hint: 'pionero meta bump major|minor|patch [theme]' });
  const [opened, ...others] = await openThemes(
    words.filter((word) => word !== part),
    context,
  );
  if (opened === undefined) throw new UsageError({ what: 'there is no theme whose version could be raised', hint: 'name one' });
  if (others.length > 0) return bumpAll(context, [opened, ...others], part, options);
  return write(context, opened, bumpVersion(opened.theme, part, dateOf(context)).theme, `meta bump ${part}`, options);
}

/** Raises the versions of several themes, of all or of none. */
async function bumpAll(context: Context, opened: readonly OpenedTheme[], part: VersionPart, options: Options): Promise<ExitStatus> {
  const { paint } = context;
  const raised = planBumps(context, opened, part);
  const isFit = raised.every(({ id, broken }) => isHarmless(context, options, id, broken));
  const isApplied = isFit && (await isConfirmed(context, options, `Raise the versions of ${count(raised.length, 'theme')}?`));
  if (isApplied) {
    await context.applyAll(raised.map(({ plan }) => plan));
    context.say(`${paint.good('✓')} ${count(raised.length, 'version')} raised; “pionero undo” reverts all of them.`);
  }
  context.result({
    raised: raised.map(({ id, before, after, broken }) => ({ id, before, after, newFindings: broken.map(findingJson) })),
    applied: isApplied,
  });
  return raised.some(({ broken }) => broken.length > 0) ? ExitStatus.findings : ExitStatus.ok;
}

/** The themes that are named: one, several, or those of a shelf; without a name the one that you are in. */
async function themesOf(
  context: Context,
  words: readonly string[],
  more: { readonly isLenient?: boolean } = {},
): Promise<readonly [OpenedTheme, ...OpenedTheme[]]> {
  const several = words.length > 0 && checkTargets(context, words).targets.length > 1 ? await openThemes(words, context, more) : [];
  const [first, ...rest] = several;
  return first === undefined ? [await openArgument(words[0], context, more)] : [first, ...rest];
}

/** @throws UsageError when a fact and its value stand beside each other, with no sign between them */
async function refuseMissingSign(context: Context, words: readonly string[]): Promise<void> {
  const plain = words.filter((word) => parseChange(word).length === 0);
  if (plain.length < 2) return;
  const [first = ''] = plain;
  const isPlace = isThemePlace(context, first);
  const { theme } = await openArgument(isPlace ? first : undefined, context, { isLenient: true });
  const facts = new Set(theme.platform.contract.documents.flatMap(({ fields }) => fields.map(({ fact }) => fact)));
  const at = plain.findIndex((word) => facts.has(word));
  if (at < 0 || at === plain.length - 1) return;
  const value = plain.slice(at + 1).join(' ');
  throw new UsageError({
    what: `${plain[at]} and its value need a sign between them`,
    hint: `pionero meta set ${isPlace ? `${first} ` : ''}${plain[at]}=${/\s/.test(value) ? `"${value}"` : value}`,
  });
}

function parseChange(word: string): FactChange[] {
  const match = /^([A-Za-z][\w-]*?)(\+=|-=|=)(.*)$/s.exec(word);
  if (match === null) return [];
  const [, fact = '', sign, value = ''] = match;
  return [{ fact, op: sign === '+=' ? 'add' : sign === '-=' ? 'remove' : 'set', value }];
}

/** Shows what changes in each document, asks, and writes it. */
async function write(context: Context, opened: OpenedTheme, changed: Theme, title: string, options: Options): Promise<ExitStatus> {
  const { paint } = context;
  const { id } = opened.theme.names;
  const { changes, plan, files, broken } = planFacts(opened, changed, title);
  if (files.length === 0) context.say(`${paint.good('✓')} ${id} says that already: nothing to change`);
  for (const { fact, before, after, file } of changes) {
    context.say(`${paint.strong(fact)}  ${paint.faint(file)}`);
    if (before !== null) context.say(`  ${paint.bad('−')} ${before}`);
    context.say(`  ${paint.good('+')} ${after}`);
  }
  for (const file of headed(opened, files)) context.say(`${paint.strong('heading')}  ${paint.faint(file)}`);
  for (const file of licenseFiles(changed.tree).filter((each) => files.includes(each)))
    context.say(`${paint.strong('text')}  ${paint.faint(file)}\n  ${paint.good('+')} the text of ${changed.text('license') ?? ''}`);
  const isFit = files.length > 0 && isHarmless(context, options, id, broken);
  const isApplied = isFit && (await isConfirmed(context, options, `Write ${count(files.length, 'file')}?`));
  if (isApplied) {
    await context.apply(plan);
    context.say(`${paint.good('✓')} ${count(files.length, 'file')} of ${id} written; “pionero undo” reverts it.`);
    sayNext(context, [opened]);
  }
  context.result({ theme: plainFacts(changed), changes, newFindings: broken.map(findingJson), applied: isApplied });
  return broken.length > 0 ? ExitStatus.findings : ExitStatus.ok;
}

/** The same for many themes: all of them in one step, or none. */
async function writeAll(
  context: Context,
  opened: readonly OpenedTheme[],
  change: (theme: Theme) => Theme,
  title: string,
  options: Options,
): Promise<ExitStatus> {
  const { paint } = context;
  const planned = planFactsOfAll(opened, change, title);
  const changed = planned.filter(({ files }) => files.length > 0);
  const same = planned.length - changed.length;
  for (const { theme, changes, files } of changed) {
    context.say(paint.strong(theme.names.id));
    for (const { fact, before, after, file } of changes)
      context.say(
        `  ${fact}  ${before === null ? '' : `${paint.bad(before)} ${paint.faint('→')} `}${paint.good(after)}  ${paint.faint(file)}`,
      );
    for (const file of licenseFiles(theme.tree).filter((each) => files.includes(each)))
      context.say(`  text  the text of ${paint.good(theme.text('license') ?? '')}  ${paint.faint(file)}`);
  }
  if (same > 0) context.say(paint.faint(`${count(same, 'theme')} ${same === 1 ? 'needs' : 'need'} no change`));
  const broken = changed.filter((each) => each.broken.length > 0);
  const isFit = changed.length > 0 && broken.every(({ theme, broken: errors }) => isHarmless(context, options, theme.names.id, errors));
  const isApplied = isFit && (await isConfirmed(context, options, `Write ${count(changed.length, 'theme')}?`));
  if (isApplied) {
    await context.applyAll(changed.map(({ plan }) => plan));
    context.say(`${paint.good('✓')} ${count(changed.length, 'theme')} written; “pionero undo” reverts all of them.`);
    sayNext(context, opened);
  }
  context.result({
    themes: planned.map(({ theme, changes, broken: errors }) => ({
      theme: plainFacts(theme),
      changes,
      newFindings: errors.map(findingJson),
    })),
    applied: isApplied,
  });
  return broken.length > 0 ? ExitStatus.findings : ExitStatus.ok;
}

/** The changelog among the files that are written. */
function headed({ theme }: OpenedTheme, files: readonly string[]): string[] {
  const changelog = changelogOf(theme);
  return files.filter((file) => file === changelog);
}

/** Each step that the themes’ platforms ask for after a change, once. */
function sayNext(context: Context, opened: readonly OpenedTheme[]): void {
  const steps = opened.flatMap(({ theme }) => theme.platform.contract['next-steps'].meta.map((step) => fillShape(step, theme.names)));
  for (const step of new Set(steps)) context.say(`  ${context.paint.name('→')} ${step}`);
}
