import { basename, dirname, join } from 'node:path';
import type { Operation } from '../../core/changes/plan.ts';
import { RefusedError, UsageError } from '../../core/errors.ts';
import { DiskTree } from '../../core/files/disk-tree.ts';
import { existsBelow, filesOf, kindOnDisk, subfoldersOf } from '../../core/files/disk.ts';
import { draftPlatform, guessesFor, guessName, type DraftRequest } from '../../core/learning/draft.ts';
import type { FileTree } from '../../core/files/file-tree.ts';
import { planFirstKit, type FirstKit } from '../../core/learning/first-kit.ts';
import type { Fitted, RefusedTheme } from '../../core/learning/fit.ts';
import type { Platform } from '../../core/platform/platform.ts';
import { recognise } from '../../core/theme/recognise.ts';
import { listKits } from '../../core/scaffold/kits.ts';
import { kindOfPath } from '../../core/text/file-kinds.ts';
import { refusedText } from '../output/support-text.ts';
import { kitProblemLines } from '../output/kit-text.ts';
import { nearest } from '../../core/text/nearest.ts';
import { count, didYouMean, listed } from '../../core/text/sentence.ts';
import type { Context } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { BACK, chooseOrBack, promptsFor, textOrBack } from '../prompts.ts';
import { askAll } from '../question-list.ts';

/** The options for a new platform file. */
export interface PlatformWishes {
  readonly name?: string | undefined;
  readonly title?: string | undefined;
  readonly out?: string | undefined;
  readonly kit?: string | undefined;
  readonly yes: boolean;
  readonly dryRun: boolean;
}

/** Learns a platform file from themes of a host that nobody has described yet, and tries it on them. */
export async function newPlatform(context: Context, folders: readonly string[], options: PlatformWishes): Promise<ExitStatus> {
  const isAsking = context.io.isInteractive && !options.yes && !context.isMachine;
  const place = placeOf(context, folders.length > 0 ? folders : [isAsking ? await askFolder(context) : '.']);
  const name = options.name ?? guessName(place.folderName);
  const wishes = isAsking ? await askWishes(context, place, name, options) : { name, title: options.title };
  const file = context.path(options.out ?? `${wishes.name}.platform.yaml`);
  const described = context
    .platforms()
    .filter((platform) => place.themes.every(({ id, tree }) => recognise(tree, platform, { id }).missing === undefined));
  const fitted = draftPlatform({
    ...place,
    wishes,
    file: basename(file),
    folder: dirname(file),
    strangers: strangersFor(context, described),
  });
  const { text, taken, refused } = fitted;
  context.say(text);
  sayFit(context, fitted);
  for (const { contract } of described)
    context.say(
      `${context.paint.name('→')} The platform “${contract.name}” recognizes them, too: “pionero platform show ${contract.name}” says what it expects.`,
    );
  if (taken.length === 0 || taken.length < refused.length)
    throw new RefusedError({
      what: `the file would refuse ${taken.length === 0 ? 'all' : 'most'} of the themes that it was learned from`,
      hint: 'name themes of one host, and more of them',
    });
  const kit = options.kit === undefined ? undefined : kitOf(context, options.kit, fitted.platform, place);
  const isThere = kindOnDisk(file) !== undefined;
  if (isThere && !options.dryRun)
    throw new RefusedError({
      what: `${context.shown(file)} is there already`,
      hint: `name another file with --out; or, to add to it what these themes teach: pionero platform new ${context.shown(file)} ${folders.join(' ')}`,
    });
  const isApplied = await isConfirmed(context, options, `Write ${context.shown(file)}?`);
  if (isApplied) {
    const bytes = Buffer.from(text);
    const made: Operation = { op: 'create', path: basename(file), content: { bytes }, size: bytes.length, mode: 0o644 };
    await context.apply({
      title: `platform new ${wishes.name}`,
      root: dirname(file),
      isNewRoot: false,
      operations: [made, ...(kit?.operations ?? [])],
    });
    sayWritten(context, file, fitted, place, kit);
  }
  context.result({
    file,
    name: wishes.name,
    themes: place.themes.map(({ id }) => id),
    taken,
    refused: refusedResult(refused),
    kit: kit?.file ?? null,
    applied: isApplied,
  });
  return ExitStatus.ok;
}

/** Themes of other platforms, which the marks of a new one must not fit. */
export function strangersFor(context: Context, described: readonly Platform[]): FileTree[] {
  const others = context.platforms().filter((platform) => !described.includes(platform));
  return others.flatMap((platform) => listKits({ platform }).map((kit) => kit.theme.tree));
}

export function refusedResult(refused: readonly RefusedTheme[]): object[] {
  return refused.map(({ id, missing, findings }) => ({
    id,
    missing: missing ?? null,
    findings: findings.map(({ message }) => message),
  }));
}

type Place = ReturnType<typeof placeOf>;

/**
 * The kit of a theme that was named by its id or its folder.
 * @throws UsageError when it is not one of the themes
 * @throws RefusedError when themes that are made of it have problems, or there is such a kit
 */
function kitOf(context: Context, wanted: string, platform: Platform, { themes, paths, shelves }: Place): FirstKit {
  const path = context.path(wanted);
  const chosen = themes.find(({ id }, i) => id === wanted || paths[i] === path);
  if (chosen === undefined)
    throw new UsageError({
      what: `${wanted} is not one of the themes`,
      hint: didYouMean(
        nearest(
          wanted,
          themes.map(({ id }) => id),
        ),
        `they are ${listed(
          themes.map(({ id }) => id),
          8,
        )}`,
      ),
    });
  const kit = planFirstKit(platform, chosen, shelves);
  const { tried, problems } = kit;
  if (problems.length > 0)
    throw new RefusedError({
      what: `a kit of ${chosen.id} would not work: ${count(tried, 'theme')} made of it, ${count(problems.length, 'problem')}`,
      why: kitProblemLines(problems, tried, context.paint, context.options.verbose ? Infinity : 3)
        .map((line) => line.trim())
        .join('; '),
      hint: 'name another theme with --kit, or leave it out: the platform file is right by itself',
    });
  const there = kit.operations.find(({ op, path: each }) => op !== 'folder' && existsBelow(platform.folder, each));
  if (there !== undefined) throw new RefusedError({ what: `${there.path} is there already`, hint: 'name another theme with --kit' });
  context.say(
    `${context.paint.good('✓')} ${chosen.id} makes a kit: ${count(tried, 'theme')} made of it, no problems and nothing left of “${chosen.id}”.`,
  );
  return { ...kit, operations: kit.operations.filter(({ op, path: each }) => op !== 'folder' || !existsBelow(platform.folder, each)) };
}

function sayWritten(context: Context, file: string, { middle }: Fitted, { themes, paths }: Place, kit: FirstKit | undefined): void {
  const shown = context.shown(file);
  context.say(
    `${context.paint.good('✓')} ${shown} is written${kit === undefined ? '' : `, and the kit ${kit.file} beside it`}; “pionero undo” reverts it.`,
  );
  const folder = context.shown(paths[themes.findIndex(({ id }) => id === middle)] ?? '.');
  const steps = [
    `Read it: a line that few themes confirm may be chance; docs/platform-files.md explains each`,
    `Try it on more themes: pionero platform check ${shown} THEMES…`,
    kit === undefined
      ? `Begin a kit with ${themes.length === 1 ? 'it' : 'the theme that is most like the others'}: pionero kit make ${folder} --platform ${shown}`
      : `Make a theme of the kit: pionero new ID --platform ${shown}`,
    `So that all commands find it: “platform: ${shown}” in pionero.yaml`,
    `Try themes on your own site: its last lines show the entry for pionero.yaml`,
  ];
  context.say(`\n${context.paint.strong('Next')}`);
  for (const [i, step] of steps.entries()) context.say(`  ${i + 1}. ${step}`);
}

/** Says how many of its own themes the file takes, and which line refuses the odd one out. */
function sayFit(context: Context, { taken, refused, loosened }: Fitted): void {
  const { paint } = context;
  const say = (line: string): void => context.say(line);
  const all = taken.length + refused.length;
  if (taken.length > 0)
    say(`${paint.good('✓')} ${all === 1 ? `It takes ${taken[0]}` : `It takes ${taken.length} of the ${all} themes`} without an error.`);
  for (const line of refusedText(refused, paint)) say(line);
  if (loosened.length > 0) say(paint.faint(`  Lines that asked for too much were loosened: ${listed([...new Set(loosened)], 5)}`));
}

/** @throws UsageError when a folder is not there */
export function placeOf(
  context: Context,
  folders: readonly string[],
): Pick<DraftRequest, 'themes' | 'folderName' | 'shelves'> & { readonly paths: readonly string[] } {
  const given = folders.map((folder) => context.path(folder));
  const wrong = given.findIndex((path) => kindOnDisk(path) !== 'folder');
  if (wrong >= 0) {
    const isFile = kindOnDisk(given[wrong] ?? '') === 'file';
    throw new UsageError({
      what: isFile
        ? `${folders[wrong]} is a file: a platform file is learned from themes that are folders`
        : `there is no folder ${folders[wrong]}`,
      hint: isFile
        ? 'for themes that are one file, write it by hand: docs/platform-files.md'
        : 'name the folders of themes that work on the host',
    });
  }
  // Who names several folders names the themes.
  const paths = given.length === 1 ? given.flatMap((path) => themesIn(path)) : given;
  return {
    paths,
    themes: paths.map((path) => ({ id: basename(path), tree: new DiskTree(path) })),
    folderName: basename(dirname(paths[0] ?? '')),
    shelves: [...new Set(paths.map((path) => dirname(path)))],
  };
}

/** A folder without files of its own, but hidden ones and what people read, is a folder of themes. */
function themesIn(path: string): string[] {
  const own = filesOf(path).filter((name) => !name.startsWith('.') && kindOfPath(name) !== 'prose');
  const inside = subfoldersOf(path).filter((name) => !name.startsWith('.'));
  if (own.length > 0 || inside.length === 0) return [path];
  return inside.length === 1 ? themesIn(join(path, inside[0] ?? '')) : inside.map((name) => join(path, name));
}

async function askFolder(context: Context): Promise<string> {
  const prompts = await promptsFor(context.io);
  const answer = await prompts.text({
    message: 'The folder of a theme that works on your host',
    fallback: '.',
    validate: (value) => (kindOnDisk(context.path(value)) === 'folder' ? undefined : 'there is no such folder'),
  });
  if (answer === undefined) throw new UsageError({ what: 'stopped: nothing was made' });
  return answer;
}

type Wishes = Omit<DraftRequest['wishes'], 'name'> & { readonly name?: string | undefined };

async function askWishes(
  context: Context,
  { themes, folderName }: Pick<DraftRequest, 'themes' | 'folderName'>,
  name: string,
  options: PlatformWishes,
): Promise<DraftRequest['wishes']> {
  const guesses = guessesFor(themes, folderName);
  const prompts = await promptsFor(context.io);
  const text = (
    key: 'name' | 'title' | 'home',
    message: string,
    fallback: (known: Wishes) => string,
    validate?: (value: string) => string | undefined,
  ) => ({
    isOpen: (known: Wishes) => known[key] === undefined,
    ask: async (known: Wishes, hasBack: boolean) => {
      const answer = await textOrBack(prompts, {
        message,
        fallback: fallback(known),
        hasBack,
        ...(validate === undefined ? {} : { validate }),
      });
      return answer === undefined || answer === BACK ? answer : { ...known, [key]: answer };
    },
  });
  const answers = await askAll<Wishes>(
    [
      {
        isOpen: () => guesses.manifests.length > 1,
        ask: async (known, hasBack) => {
          const choices = guesses.manifests
            .slice(0, 6)
            .map(({ path, facts }) => ({ value: path, label: path, hint: facts.slice(0, 4).join(', ') }));
          const answer = await chooseOrBack(prompts, 'Which file tells the host what the theme is called?', choices, hasBack);
          return answer === undefined || answer === BACK ? answer : { ...known, manifest: answer };
        },
      },
      text(
        'name',
        'Name of the platform, for the command line',
        () => name,
        (value) => (/^[a-z][a-z0-9-]*$/.test(value) ? undefined : 'a lower-case letter, then lower-case letters, digits or hyphens'),
      ),
      text('title', 'Title, shown to people', ({ name = '' }) => name.charAt(0).toUpperCase() + name.slice(1)),
      text(
        'home',
        'Where a theme is on the host',
        () => guesses.home,
        (value) => (value.includes('{id}') ? undefined : 'it must hold {id}, which stands for the theme’s id'),
      ),
    ],
    { name: options.name, title: options.title },
  );
  return { ...answers, name: answers.name ?? name };
}
