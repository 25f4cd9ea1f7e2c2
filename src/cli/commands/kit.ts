import { flag, text, texts, type Values } from '../option.ts';
import { dirname, join } from 'node:path';
import { kindOnDisk } from '../../core/files/disk.ts';
import { findConfiguration } from '../../core/configuration/configuration.ts';
import { UsageError } from '../../core/errors.ts';
import type { Platform } from '../../core/platform/platform.ts';
import { checkKit, type KitVerdict } from '../../core/scaffold/check-kit.ts';
import { checkKits } from '../../core/scaffold/check-kits.ts';
import type { KitToCheck } from '../../core/scaffold/named-kit.ts';
import { findKit, kitsOfParent, listKits, usableKits } from '../../core/scaffold/kits.ts';
import type { Kit } from '../../core/scaffold/kit.ts';
import { planKit, planKitOfFolder } from '../../core/scaffold/make-kit.ts';
import type { KitPart } from '../../core/scaffold/parts.ts';
import { actionArgument, actionOf } from '../actions.ts';
import { changeOptions, defineCommand, jobsOption, type ActionFacts, type Context } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { kitProblemLines, kitProblemText } from '../output/kit-text.ts';
import { openArgument } from '../theme-argument.ts';
import { userPlatformFolder } from '../own-folders.ts';
import { lookAround } from '../workspace.ts';
import { checkedShelves } from '../../core/theme/open.ts';
import { isTheme } from '../../core/theme/find-themes.ts';
import { themeAround } from '../../core/theme/shelf.ts';
import { count } from '../../core/text/sentence.ts';

const OPTIONS = {
  name: text('NAME', 'make: what --kit calls it; default: the theme’s id'),
  about: text('TEXT', 'make: what it is for, in one sentence'),
  part: texts('NAME=GLOB,GLOB', 'make: a part that can be left out, and its files; repeatable'),
  ask: texts('FACT', 'make: a fact that “new” asks for; repeatable'),
  marker: texts('FACT', 'make: a fact that a new theme must not have; repeatable'),
  parent: text('ID', 'list: the theme whose kits are meant, by its id'),
  all: flag('list: also the kits of other platforms, beside a parent that keeps its own'),
  ...jobsOption,
  ...changeOptions,
};
type Options = Values<typeof OPTIONS>;
type Action = (context: Context, argument: string | undefined, options: Options) => Promise<ExitStatus>;

const ACTIONS: Readonly<Record<string, Action>> = { list, make, check };

/** The arguments and options of each. */
const FACTS: Readonly<Record<string, ActionFacts>> = {
  list: {
    about: 'list the kits of the parents here, of the platform, and on the shelves',
    arguments: [],
    options: ['parent', 'all'],
    examples: ['pionero kit list --platform vereda', 'pionero kit list --parent albar'],
  },
  make: {
    about: 'make a kit of a theme, or of a plain folder that a parent keeps for its children',
    arguments: [{ form: '[theme]', about: 'a theme’s folder, or a folder of kits; default: the current folder' }],
    options: ['name', 'about', 'part', 'ask', 'marker', 'dryRun', 'yes'],
    examples: ['pionero kit make albar --part menu="partials/albar-nav.html,scripts/**"', 'pionero kit make albar --ask summary --dry-run'],
  },
  check: {
    about: 'make a theme of a kit under awkward names, and check what comes out',
    arguments: [{ form: '[kit]', about: 'a kit’s name, folder or archive; default: all kits' }],
    options: ['jobs'],
    examples: ['pionero kit check standard --platform cordada', 'pionero kit check kits/mochila'],
  },
};

export default defineCommand({
  arguments: [actionArgument(FACTS), { form: '[kit]', about: 'make: a theme; check: a kit’s name, folder or archive; default: all kits' }],
  actions: FACTS,
  options: OPTIONS,
  examples: [
    'pionero kit list --platform vereda',
    'pionero kit list --parent albar',
    'pionero kit make albar --part menu="partials/albar-nav.html,scripts/**"',
    'pionero kit check standard --platform cordada',
  ],
  async run(context, [name = '', argument], options) {
    return actionOf('kit', ACTIONS, name)(context, argument, options);
  },
});

/** The platforms whose kits are meant: the one that was named or configured, else all. */
/** A kit of the folders around here, as a thread finds it again. */
function findable(context: Context, { name, theme }: Kit): KitToCheck {
  const { platform, location } = theme;
  return {
    currentFolder: context.io.folder,
    platform: platform.path ?? platform.contract.name,
    platformFolder: userPlatformFolder(context.io.env),
    parents: parentsHere(context, platform, undefined),
    shelves: context.shelvesOf(platform, '.').folders,
    name,
    location,
    around: checkedShelves(context.opening),
  };
}

function platformsOf(context: Context): readonly Platform[] {
  const wanted = context.options.platform ?? findConfiguration(context.io.folder).platform;
  return wanted === undefined ? context.platforms() : [context.platformNamed(wanted)];
}

/** Those that parents here keep, those of the platform, those on the shelves. */
function kitsOf(context: Context, platform: Platform): Kit[] {
  return usableKits(platform, parentsHere(context, platform, undefined), context.shelvesOf(platform, '.'));
}

/** The themes here that keep kits for their children: the one that was named, the one that we are in, those on the shelves. */
function parentsHere(context: Context, platform: Platform, wanted: string | undefined): string[] {
  const shelves = context.shelvesOf(platform, '.');
  if (wanted !== undefined) return [shelves.find(wanted)?.folder].filter((folder) => folder !== undefined);
  const { folder } = context.io;
  const isHere = isTheme(folder, [platform]);
  return [...new Set([...(isHere ? [folder] : []), ...shelves.list().map((theme) => theme.folder)])];
}

async function list(context: Context, _: string | undefined, options: Options): Promise<ExitStatus> {
  // In a folder of themes, people start from kits of that platform.
  const near = new Set(lookAround(context, undefined).platforms.map(({ contract }) => contract.name));
  const isFar = ({ contract }: Platform): number => (near.has(contract.name) ? 0 : 1);
  const all = platformsOf(context)
    .toSorted((a, b) => isFar(a) - isFar(b))
    .map((platform) => {
      const own = parentsHere(context, platform, options.parent).flatMap((folder) => kitsOfParent(folder, platform));
      return { platform, own, kits: [...own, ...listKits({ platform, shelves: context.shelvesOf(platform, '.') })] };
    });
  if (
    options.parent !== undefined &&
    all.every(({ platform }) => context.shelvesOf(platform, '.').find(options.parent ?? '') === undefined)
  )
    throw new UsageError({
      what: `the parent “${options.parent}” is on none of the shelves`,
      hint: 'name the shelf that it lies on with --shelf',
    });
  // Where a parent keeps kits, nobody looks for those of other hosts.
  const beside = all.filter(({ own }) => own.length > 0);
  const found = options.all || beside.length === 0 ? all : beside;
  sayKits(context, found);
  context.result(
    found.flatMap(({ platform, kits }) =>
      kits.map(({ name, title, about, isChild, parts, from, isPlain, names, notForUse }) => ({
        platform: platform.contract.name,
        ...{ name, title, about, isChild, parts, from },
        plain: isPlain,
        names: names.map(({ text, stands, evidence, isSure }) => ({ text, stands, evidence, sure: isSure })),
        notForUse: notForUse ?? null,
      })),
    ),
  );
  return ExitStatus.ok;
}

function sayKits(context: Context, found: readonly { readonly platform: Platform; readonly kits: readonly Kit[] }[]): void {
  const { paint } = context;
  const offered = found.flatMap(({ kits }) => kits.filter(({ notForUse }) => notForUse === undefined));
  context.say(count(offered.length, 'kit'));
  for (const { platform, kits } of found) {
    const shown = kits.filter(({ notForUse }) => notForUse === undefined);
    if (kits.length > 0) context.say(`\n${paint.strong(platform.contract.title)} ${paint.faint(`(--platform ${platform.contract.name})`)}`);
    for (const { name, about, isChild, parts, from, names, isPlain } of shown) {
      const place = from === platform.contract.title ? '' : from.startsWith('the parent') ? `of ${from}` : `in ${from}`;
      const notes = [isChild && !isPlain ? 'for a child' : '', place].filter((note) => note !== '');
      context.say(`  ${paint.name(name.padEnd(12))} ${about}${notes.length > 0 ? paint.faint(`  (${notes.join(', ')})`) : ''}`);
      if (parts.length > 0)
        context.say(`  ${''.padEnd(12)} ${paint.faint(`without: ${parts.map((part) => `${part.name} (${part.title})`).join(', ')}`)}`);
      if (names.length > 0)
        context.say(
          `  ${''.padEnd(12)} ${paint.faint(`also called: ${names.map(({ text, isSure }) => (isSure ? text : `${text}?`)).join(', ')}`)}`,
        );
    }
    for (const { name, notForUse, from } of kits.filter((kit) => kit.notForUse !== undefined))
      context.say(paint.faint(`  ${name.padEnd(12)} not for use: ${notForUse}  (of ${from})`));
  }
  const isOfParent = offered.some(({ from }) => from.startsWith('the parent'));
  const how = isOfParent ? 'pionero new ID --parent PARENT --kit NAME' : 'pionero new ID --platform NAME --kit NAME';
  context.say(`\n${paint.name('→')} “${how}” makes a theme of one.`);
}

/** A plain folder in a parent's kits, by its path; undefined when that is another thing. */
function plainKitAt(context: Context, argument: string | undefined): Kit | undefined {
  if (argument === undefined || kindOnDisk(context.path(argument)) !== 'folder') return undefined;
  const folder = context.path(argument);
  for (const platform of platformsOf(context)) {
    const parent = themeAround(platform, dirname(folder));
    const kits = parent === undefined ? [] : kitsOfParent(parent, platform);
    const found = kits.find((kit) => kit.isPlain && kit.theme.location === folder);
    if (found !== undefined) return found;
  }
  return undefined;
}

async function makeOfFolder(context: Context, kit: Kit, options: Options): Promise<ExitStatus> {
  const { name, about, part, ask: asks, marker: markers } = options;
  const { plan, file, text } = planKitOfFolder(kit, { name, about, parts: part.map(parsePart), asks, markers });
  const { paint } = context;
  context.say(`${paint.strong(plan.title)}: writes ${context.shown(join(plan.root, file))}\n`);
  context.say(text.replaceAll(/^/gm, '  ').trimEnd());
  const isApplied = await isConfirmed(context, options, 'Write it?');
  if (isApplied) {
    await context.apply(plan);
    context.say(`${paint.good('✓')} ${kit.name} has a kit file now; “pionero undo” reverts it.`);
  }
  context.result({ kit: file, applied: isApplied });
  return ExitStatus.ok;
}

async function make(context: Context, argument: string | undefined, options: Options): Promise<ExitStatus> {
  const plain = plainKitAt(context, argument);
  if (plain !== undefined) return makeOfFolder(context, plain, options);
  const opened = await openArgument(argument, context);
  const { id } = opened.theme.names;
  const kit = planKit(opened, {
    name: options.name,
    about: options.about,
    parts: options.part.map(parsePart),
    asks: options.ask,
    markers: options.marker,
  });
  const { paint } = context;
  context.say(`${paint.strong(kit.plan.title)}: writes ${context.shown(join(kit.plan.root, kit.file))}\n`);
  context.say(kit.text.replaceAll(/^/gm, '  ').trimEnd());
  if (kit.unsure.length === 0) context.say(`\n${paint.good('✓')} “${id}” can be renamed unambiguously.`);
  else {
    const why = kit.weight === 'distinctive' ? '' : `, because it is ${kit.weight === 'short' ? 'short' : 'a common word'}`;
    context.say(`\n${paint.warn('▲')} “${id}” cannot be renamed for sure in ${count(kit.unsure.length, 'place')}${why}:`);
    const shown = context.options.verbose ? kit.unsure : kit.unsure.slice(0, 10);
    for (const { was, text } of shown) context.say(`  ${was.line === 0 ? was.file : `${was.file}:${was.line}:${was.column}`}  ${text}`);
    if (shown.length < kit.unsure.length)
      context.say(paint.faint(`  … and ${kit.unsure.length - shown.length} more (--verbose shows all)`));
    context.say(`  ${paint.name('→')} give the kit a name of its own first: pionero rename ${id} NEW-ID`);
  }
  const isApplied = await isConfirmed(context, options, 'Write it?');
  if (isApplied) {
    await context.apply(kit.plan);
    context.say(
      `${paint.good('✓')} ${id} is a kit now; “pionero kit check ${context.shown(opened.folder)}” tries it, “pionero undo” reverts it.`,
    );
  }
  const places = kit.unsure.map(({ was, text, reason }) => ({ ...was, text, reason }));
  context.result({ kit: kit.file, weight: kit.weight, unsure: places, applied: isApplied });
  return ExitStatus.ok;
}

/** @throws UsageError when a part is not written as NAME=GLOB */
function parsePart(text: string): KitPart {
  const [, name, files] = /^([a-z][a-z0-9-]*)=(.+)$/.exec(text) ?? [];
  if (name === undefined || files === undefined)
    throw new UsageError({ what: `“${text}” is not of the form NAME=GLOB,GLOB`, hint: 'for example: menu=partials/menu.html,scripts/**' });
  return { name, title: name, files: files.split(',').map((glob) => glob.trim()) };
}

async function check(context: Context, argument: string | undefined, { jobs }: Options): Promise<ExitStatus> {
  const kits =
    argument === undefined ? platformsOf(context).flatMap((platform) => kitsOf(context, platform)) : [await kitNamed(context, argument)];
  const around = checkedShelves(context.opening);
  const { paint } = context;
  const verdicts: KitVerdict[] = [];
  const trials =
    argument === undefined
      ? checkKits(
          kits.map((kit) => findable(context, kit)),
          jobs,
        )
      : kits.map((kit) => checkKit(kit, around));
  const left = kits.values();
  for await (const { tried, problems } of trials) {
    const { value: kit } = left.next();
    if (kit === undefined) break;
    const who = `${paint.strong(kit.name)} ${paint.faint(`(${kit.theme.platform.contract.title})`)}`;
    const themes = `${count(tried, 'theme')} made of it`;
    if (problems.length === 0) context.say(`${paint.good('✓')} ${who}: ${themes}, no problems and nothing left of “${kit.theme.names.id}”`);
    else context.warn(`${paint.bad('✗')} ${who}: ${themes}, ${count(problems.length, 'problem')}`);
    for (const line of kitProblemLines(problems, tried, paint, context.options.verbose ? Infinity : 8)) context.warn(line);
    verdicts.push({ kit, tried, problems });
  }
  context.result(
    verdicts.map(({ kit, tried, problems }) => ({
      platform: kit.theme.platform.contract.name,
      kit: kit.name,
      tried,
      problems: problems.map((each) => ({ id: each.id, without: each.without, problem: kitProblemText(each) })),
    })),
  );
  return verdicts.every((verdict) => verdict.problems.length === 0) ? ExitStatus.ok : ExitStatus.findings;
}

/** A kit by its name on one of the platforms, or by its path. */
async function kitNamed(context: Context, argument: string): Promise<Kit> {
  const platforms = platformsOf(context);
  const known = platforms.flatMap((platform) => kitsOf(context, platform)).filter((kit) => kit.name === argument);
  const [first] = known;
  if (first !== undefined && known.length === 1) return first;
  if (known.length > 1)
    throw new UsageError({ what: `${known.length} platforms have a kit “${argument}”`, hint: 'say which with --platform' });
  const [platform] = platforms;
  if (platforms.length === 1 && platform !== undefined) {
    const shelves = context.shelvesOf(platform, '.');
    return findKit({ platform, shelves }, argument, false).catch(async () => findKit({ platform, shelves }, argument, true));
  }
  const opened = await openArgument(argument, context);
  return findKit({ platform: opened.theme.platform, shelves: opened.shelves }, `${opened.folder}/`, opened.theme.isChild);
}
