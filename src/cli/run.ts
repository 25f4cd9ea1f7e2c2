import { Command as Program, CommanderError, Option } from 'commander';
import { recoverTogether } from '../core/changes/together.ts';
import { recover } from '../core/changes/recover.ts';
import { PioneroError } from '../core/errors.ts';
import { COMMANDS } from './command-table.ts';
import { actionIn, isOptionOf, optionsOf, saidOf } from './describe.ts';
import { givenFor, readValue, type Given } from './option.ts';
import { commandFirst, helpAsked, isKnownSlip, slipOf } from './slips.ts';
import { Context, type Command, type CommonOptions, commonOptions } from './command.ts';
import { ExitStatus } from './exit-status.ts';
import type { Io } from './io.ts';
import { reportDefect, reportError, usageText } from './output/error-text.ts';
import { Paint } from './output/paint.ts';
import { oneLine, visible } from './output/visible.ts';

/** Runs one command line. Never throws and never exits: the caller does that with the status returned. */
export async function run(line: readonly string[], io: Io, version: string): Promise<ExitStatus> {
  const argv = commandFirst(line);
  let status: ExitStatus = ExitStatus.ok;
  let flags: readonly string[] = [];
  const paint = new Paint(io.hasColor);
  const program = new Program('pionero')
    .description('Makes, checks, renames and packs themes for content platforms.')
    .version(version, '-V, --version', 'print the version')
    .helpOption('-h, --help', 'print this help')
    .helpCommand(false)
    .exitOverride()
    .configureOutput({
      writeOut: (text) => io.stdout.write(visible(text)),
      writeErr: (text) => io.stderr.write(visible(text)),
      getOutHasColors: () => io.hasColor,
      getOutHelpWidth: () => (io.isInteractive ? io.columns : 80),
      // A word that we know a meaning of is not misspelled.
      outputError: (text, write) => write(usageText(isKnownSlip(argv) ? text.replace(/\(Did you mean .*\)\n/, '') : text, paint)),
    })
    .showHelpAfterError(false)
    .showSuggestionAfterError(true)
    .addHelpText('after', '\nStart with: pionero demo\nHelp on a command: pionero COMMAND --help');
  // Only the command that is asked for is described and loaded: a short start is what people feel most.
  const word = argv.find((each) => !each.startsWith('-'));
  const asked = COMMANDS.find(({ name }) => name === word);
  for (const entry of asked === undefined ? COMMANDS : [asked]) {
    const sub = program
      .command(entry.name)
      .summary(entry.summary)
      .description(capital(entry.summary) + '.')
      .copyInheritedSettings(program);
    if (entry === asked) {
      const { default: command } = await entry.load();
      describe(sub, command, argv.slice(argv.indexOf(entry.name) + 1));
      flags = optionsOf(command).map(({ flag }) => flag);
      sub.action(async (...values: unknown[]) => {
        status = await carryOut(sub, command, values, io, version);
      });
    }
  }
  try {
    if (argv[0] === 'complete') return await complete(argv.slice(1), io);
    const helpLine = helpAsked(argv);
    if (helpLine !== undefined) return await run(helpLine, io, version);
    if (argv.length === 0) {
      io.stdout.write(program.helpInformation());
      io.stdout.write('\nStart with: pionero demo\n');
      return ExitStatus.usage;
    }
    await program.parseAsync([...argv], { from: 'user' });
    return status;
  } catch (error) {
    const slip = error instanceof CommanderError ? slipOf(error, argv, flags) : undefined;
    if (slip !== undefined) io.stderr.write(visible(`  ${paint.name('→')} ${slip}\n`));
    return statusOf(error, io, argv.includes('--verbose'));
  }
}

/** Answers a shell that completes a line. */
async function complete(words: readonly string[], io: Io): Promise<ExitStatus> {
  const { completions } = await import('./completion.ts');
  io.stdout.write(
    (
      await completions(
        words.filter((word, i) => i > 0 || word !== '--'),
        io,
      )
    )
      .map((line) => `${visible(line)}\n`)
      .join(''),
  );
  return ExitStatus.ok;
}

function statusOf(error: unknown, io: Io, isVerbose: boolean): ExitStatus {
  if (error instanceof CommanderError) return error.exitCode === 0 ? ExitStatus.ok : ExitStatus.usage;
  if (!(error instanceof PioneroError)) {
    reportDefect(error, io, isVerbose);
    return ExitStatus.defect;
  }
  reportError(error, io, isVerbose);
  const statuses = {
    usage: ExitStatus.usage,
    configuration: ExitStatus.usage,
    refused: ExitStatus.findings,
    failed: ExitStatus.failed,
  } as const;
  return statuses[error.code];
}

/** Gives a subcommand its arguments, options and examples; those of one action where help on it is asked for. */
function describe(sub: Program, command: Command, words: readonly string[]): void {
  const isHelp = words.includes('--help') || words.includes('-h');
  const action = isHelp ? actionIn(command, words) : undefined;
  const { arguments: all, examples } = action?.facts ?? command;
  if (action !== undefined) sub.description(`${capital(action.facts.about)}.`);
  for (const argument of all) sub.argument(argument.form, argument.about);
  for (const { flag, value, about, isList, choices, formerFlag } of optionsOf(command, action?.facts)) {
    if (formerFlag !== undefined) sub.addOption(new Option(`${formerFlag} <${value ?? ''}>`).hideHelp());
    // On an action’s own help, which action it is of needs no word.
    const own = action === undefined ? about : about.replace(`${action.name}: `, '');
    const said = saidOf({ about: own, choices });
    const form = value === undefined ? flag : `${flag} <${value}>`;
    if (isList) sub.option(form, said, (value: string, all: string[] | undefined) => [...(all ?? []), value]);
    else sub.option(form, said);
  }
  const actions = action === undefined ? Object.entries(command.actions ?? {}) : [];
  const width = Math.max(0, ...actions.map(([name]) => name.length));
  if (actions.length > 0)
    sub.addHelpText('after', `\nActions:\n${actions.map(([name, { about }]) => `  ${name.padEnd(width)}  ${about}`).join('\n')}`);
  sub.addHelpText('after', `\nExamples:\n${examples.map((example) => `  $ ${example}`).join('\n')}`);
  if (actions.length > 0) sub.addHelpText('after', `\nHelp on an action: pionero ${sub.name()} ACTION --help`);
  sub.usage([...(action === undefined ? [] : [action.name]), ...all.map((argument) => argument.form), '[options]'].join(' '));
}

async function carryOut(sub: Program, command: Command, values: readonly unknown[], io: Io, version: string): Promise<ExitStatus> {
  const data = valuesOf(sub, command);
  refuseForeignOptions(sub, command);
  const args = values
    .slice(0, command.arguments.length)
    .flatMap((argument) => (argument === undefined ? [] : (argument as string | string[])));
  const context = new Context(io, data, {
    version,
    runLine: async (argv, its) => run(argv, its, version),
    isAgreeing: data['yes'] === true,
  });
  await recoverFirst(context);
  return command.run(context, args, data);
}

/** The values of all options. Ends the run when one does not take its value. */
function valuesOf(sub: Program, command: Command): CommonOptions & Readonly<Record<string, unknown>> {
  const given = sub.opts<Record<string, Given>>();
  const values: Record<string, unknown> = {};
  for (const [name, option] of Object.entries({ ...commonOptions, ...command.options })) {
    const read = readValue(option, givenFor(name, option, given));
    if ('value' in read) values[name] = read.value;
    else sub.error(`${optionsOf(command).find((each) => each.name === name)?.flag ?? name} does not take this value${read.problem}`);
  }
  return values as CommonOptions & typeof values;
}

/** Ends the run when an option is given that the action that is named does not have. */
function refuseForeignOptions(sub: Program, command: Command): void {
  const action = actionIn(command, sub.args);
  if (action === undefined) return;
  const given = new Set(Object.keys(sub.opts()).filter((name) => sub.getOptionValueSource(name) === 'cli'));
  const foreign = optionsOf(command).find(({ name }) => given.has(name) && !isOptionOf(action.facts, name));
  if (foreign === undefined) return;
  const owners = Object.entries(command.actions ?? {}).flatMap(([name, facts]) => (isOptionOf(facts, foreign.name) ? [name] : []));
  sub.error(
    `${foreign.flag} is not an option of “${sub.name()} ${action.name}”; it belongs to ${owners.map((name) => `“${sub.name()} ${name}”`).join(', ')}`,
  );
}

/** Before anything is read: what a run left that was broken off would be taken for the user's own. */
async function recoverFirst(context: Context): Promise<void> {
  const mark = context.paint.warn('▲');
  const { takenBack, finished, setAside, failed } = await recover(context.journal);
  // A command that only reads can go on; one that writes is refused for the same reason.
  for (const { what, why } of failed) context.warn(`${mark} ${oneLine(what)}: ${oneLine(why ?? '')}.`);
  const half = await recoverTogether(context.journal, context.io.now()).catch(() => []);
  for (const title of [...takenBack, ...half]) context.warn(`${mark} A run was broken off before: “${oneLine(title)}” was taken back.`);
  for (const title of finished) context.warn(`${mark} A run was broken off before: “${oneLine(title)}” was brought to its end.`);
  for (const path of setAside) context.warn(`${mark} An entry of the journal cannot be read, and was moved to ${path}.`);
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
