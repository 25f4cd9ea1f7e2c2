import { basename, dirname } from 'node:path';
import { writeOutput } from '../../core/changes/write-output.ts';
import { FailedOperationError, RefusedError, UsageError } from '../../core/errors.ts';
import { DiskTree } from '../../core/files/disk-tree.ts';
import { kindOnDisk } from '../../core/files/disk.ts';
import { MemoryTree } from '../../core/files/memory-tree.ts';
import { readPlatform } from '../../core/platform/load.ts';
import { checkPlatform } from '../../core/scaffold/check-platform.ts';
import { draftPlatform, guessesFor, type DraftPlace, type DraftWishes } from '../../core/scaffold/drafts/draft-platform.ts';
import { recognise } from '../../core/theme/recognise.ts';
import type { Context } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { BACK, chooseOrBack, promptsFor, textOrBack } from '../prompts.ts';
import { askAll } from '../question-list.ts';

interface Options {
  readonly name?: string | undefined;
  readonly title?: string | undefined;
  readonly out?: string | undefined;
  readonly yes: boolean;
  readonly dryRun: boolean;
}

/** Drafts a platform file from themes of a host that nobody has described yet. */
export async function newPlatform(context: Context, folders: readonly string[], options: Options): Promise<ExitStatus> {
  const isAsking = context.io.isInteractive && !options.yes && !context.isMachine;
  const place = placeOf(context, folders.length > 0 ? folders : [isAsking ? await askFolder(context) : '.']);
  const guesses = guessesFor(place);
  const ids = place.samples.map(({ id }) => id).join(', ');
  if (guesses.documents.length === 0)
    throw new RefusedError({
      what: `no file of ${ids} says what the theme is called`,
      why: 'a host knows a theme by such a file: a manifest, or a header in a stylesheet',
      hint: 'docs/platform-files.md shows how such a file is described by hand',
    });
  const wishes = isAsking ? await askWishes(context, guesses, options) : { name: options.name ?? guesses.name, title: options.title };
  const text = draftPlatform(place, wishes) ?? '';
  const file = context.path(options.out ?? `${wishes.name}.platform.yaml`);
  const platform = readPlatform(MemoryTree.of({ [basename(file)]: text }), basename(file), context.shown(file), dirname(file));
  // What it says must hold for the themes that it was drafted from.
  const problems = checkPlatform(platform);
  const missed = place.samples.filter(({ tree, id }) => recognise(tree, platform, { id }).missing !== undefined);
  if (problems.length > 0 || missed.length > 0)
    throw new FailedOperationError({
      what: `the draft would not be right: ${problems[0]?.message ?? `${missed[0]?.id} would not be recognised`}`,
      hint: 'please report it, with the theme’s manifest',
    });
  context.say(text);
  const isThere = kindOnDisk(file) !== undefined;
  if (isThere && !options.dryRun)
    throw new RefusedError({ what: `${context.shown(file)} is there already`, hint: 'name another file with --out' });
  const isApplied = await isConfirmed(context, options, `Write ${context.shown(file)}?`);
  if (isApplied) {
    await writeOutput(file, Buffer.from(text), context.journal);
    context.say(`${context.paint.good('✓')} ${context.shown(file)} is a valid platform file, and recognises ${ids}.`);
    context.say(`\n${context.paint.strong('Next')}`);
    context.say(`  1. Read it, and correct what was guessed wrong; docs/platform-files.md explains each line`);
    context.say(`  2. Check a theme with it: pionero check ${folders[0] ?? '.'} --platform ${context.shown(file)}`);
    context.say(`  3. So that all commands find it: “platform: ${context.shown(file)}” in pionero.yaml`);
  }
  context.result({ file, name: wishes.name, themes: place.samples.map(({ id }) => id), applied: isApplied });
  return ExitStatus.ok;
}

/** @throws UsageError when a folder is not there */
function placeOf(context: Context, folders: readonly string[]): DraftPlace {
  const paths = folders.map((folder) => context.path(folder));
  const wrong = paths.findIndex((path) => kindOnDisk(path) !== 'folder');
  if (wrong >= 0) {
    const isFile = kindOnDisk(paths[wrong] ?? '') === 'file';
    throw new UsageError({
      what: isFile
        ? `${folders[wrong]} is a file: a platform file is drafted from themes that are folders`
        : `there is no folder ${folders[wrong]}`,
      hint: isFile
        ? 'for themes that are one file, write it by hand: docs/platform-files.md'
        : 'name the folder of a theme that works on the host',
    });
  }
  const samples = paths.map((path) => ({ id: basename(path), tree: new DiskTree(path) }));
  return { samples, folder: basename(dirname(paths[0] ?? '')) };
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

type Wishes = Omit<DraftWishes, 'name'> & { readonly name?: string | undefined };

async function askWishes(context: Context, guesses: ReturnType<typeof guessesFor>, options: Options): Promise<DraftWishes> {
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
        isOpen: () => guesses.documents.length > 1,
        ask: async (known, hasBack) => {
          const choices = guesses.documents.slice(0, 6).map(({ path, fields }) => ({
            value: path,
            label: path,
            hint: fields
              .slice(0, 4)
              .map(({ fact }) => fact)
              .join(', '),
          }));
          const answer = await chooseOrBack(prompts, 'Which file tells the host what the theme is called?', choices, hasBack);
          return answer === undefined || answer === BACK ? answer : { ...known, manifest: answer };
        },
      },
      text(
        'name',
        'Name of the platform, for the command line',
        () => guesses.name,
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
  return { ...answers, name: answers.name ?? guesses.name };
}
