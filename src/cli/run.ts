import { Command as Program, CommanderError } from 'commander';
import * as z from 'zod';
import { recover } from '../core/changes/recover.ts';
import { PioneroError } from '../core/errors.ts';
import { COMMANDS } from './command-table.ts';
import { Context, type Command, type CommonOptions, commonOptions } from './command.ts';
import { ExitStatus } from './exit-status.ts';
import type { Io } from './io.ts';
import { reportDefect, reportError } from './output/error-text.ts';
import { oneLine, visible } from './output/visible.ts';

/** Runs one command line. Never throws and never exits: the caller does that with the status returned. */
export async function run(argv: readonly string[], io: Io, version: string): Promise<ExitStatus> {
  let status: ExitStatus = ExitStatus.ok;
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
    })
    .showHelpAfterError(false)
    .showSuggestionAfterError(true)
    .addHelpText('after', '\nStart with: pionero demo\nHelp on a command: pionero COMMAND --help');
  for (const entry of COMMANDS) {
    const sub = program
      .command(entry.name)
      .summary(entry.summary)
      .description(capital(entry.summary) + '.')
      .copyInheritedSettings(program);
    // Only the command that is asked for is loaded: a short start is what people feel most.
    if (argv.find((word) => !word.startsWith('-')) === entry.name) {
      const { default: command } = await entry.load();
      describe(sub, command);
      sub.action(async (...given: unknown[]) => {
        status = await carryOut(sub, command, given, io, version);
      });
    }
  }
  try {
    if (argv.length === 0) {
      io.stdout.write(program.helpInformation());
      io.stdout.write('\nStart with: pionero demo\n');
      return ExitStatus.usage;
    }
    await program.parseAsync([...argv], { from: 'user' });
    return status;
  } catch (error) {
    return statusOf(error, io, argv.includes('--verbose'));
  }
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

/** Gives a subcommand its arguments, options and examples. */
function describe(sub: Program, command: Command): void {
  for (const argument of command.arguments) sub.argument(argument.form, argument.about);
  for (const [name, schema] of Object.entries({ ...commonOptions, ...command.options })) {
    const kind = kindOf(schema as z.ZodType);
    const flag = name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`);
    const about = (schema as z.ZodType).description ?? '';
    // What is on unless somebody says otherwise can only be switched off.
    if (kind.isBoolean) sub.option(kind.isOn ? `--no-${flag}` : `--${flag}`, about);
    else if (kind.isList)
      sub.option(`--${flag} <${kind.value}>`, about, (value: string, all: string[] | undefined) => [...(all ?? []), value]);
    else sub.option(`--${flag} <${kind.value}>`, about);
  }
  sub.addHelpText('after', `\nExamples:\n${command.examples.map((example) => `  $ ${example}`).join('\n')}`);
  sub.usage(`${command.arguments.map((argument) => argument.form).join(' ')} [options]`.trim());
}

function kindOf(schema: z.ZodType): { isBoolean: boolean; isOn: boolean; isList: boolean; value: string } {
  const json = z.toJSONSchema(schema, { io: 'input' });
  const value = schema.meta()?.['value'];
  return {
    isBoolean: json.type === 'boolean',
    isOn: json.default === true,
    isList: json.type === 'array',
    value: typeof value === 'string' ? value : 'VALUE',
  };
}

async function carryOut(sub: Program, command: Command, given: readonly unknown[], io: Io, version: string): Promise<ExitStatus> {
  const typed = z.object({ ...commonOptions, ...command.options }).safeParse(sub.opts());
  if (!typed.success) {
    const issue = typed.error.issues[0];
    const allowed = issue?.code === 'invalid_value' ? `; allowed: ${issue.values.join(', ')}` : '';
    sub.error(`error: --${String(issue?.path[0])} does not take this value${allowed}`);
  }
  const args = given
    .slice(0, command.arguments.length)
    .flatMap((argument) => (argument === undefined ? [] : (argument as string | string[])));
  const data = typed.data as CommonOptions & typeof typed.data;
  const context = new Context(io, data, { version, runLine: async (argv, its) => run(argv, its, version) });
  await recoverFirst(context);
  return command.run(context, args, typed.data);
}

/** Before anything is read: what a run left that was broken off would be taken for the user's own. */
async function recoverFirst(context: Context): Promise<void> {
  const mark = context.paint.warn('▲');
  const { takenBack, finished, setAside, failed } = await recover(context.journal);
  // What only reads can go on; what writes is refused by the same reason.
  for (const { what, why } of failed) context.warn(`${mark} ${oneLine(what)}: ${oneLine(why ?? '')}.`);
  for (const title of takenBack) context.warn(`${mark} A run was broken off before: “${oneLine(title)}” was taken back.`);
  for (const title of finished) context.warn(`${mark} A run was broken off before: “${oneLine(title)}” was brought to its end.`);
  for (const path of setAside) context.warn(`${mark} An entry of the journal cannot be read, and was moved to ${path}.`);
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
