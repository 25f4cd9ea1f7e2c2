import { COMMANDS } from './command-table.ts';
import { commonOptions, defineCommand, type Command } from './command.ts';
import { ExitStatus } from './exit-status.ts';
import { optionsOf, type OptionFacts } from './describe.ts';

/** The manual page in the language of man(7), made from the commands themselves. */
export async function manPage(version: string): Promise<string> {
  const common = defineCommand({ arguments: [], options: {}, examples: [], run: async () => ExitStatus.ok });
  const commands = await Promise.all(COMMANDS.map(async ({ name, summary, load }) => commandLines(name, summary, (await load()).default)));
  return [
    `.TH PIONERO 1 "" "pionero ${version}" "User Commands"`,
    '.SH NAME',
    'pionero \\- makes, checks, renames and packs themes for content platforms',
    '.SH SYNOPSIS',
    '.B pionero',
    '.I command',
    '[arguments] [options]',
    '.SH COMMANDS',
    ...commands.flat(),
    '.SH COMMON OPTIONS',
    ...optionsOf(common).flatMap(optionLines),
    '.SH EXIT STATUS',
    ...[
      'All is well.',
      'Findings of severity error, or a refused operation.',
      'The command line or a configuration file is wrong.',
    ].flatMap((text, i) => ['.TP', `.B ${i}`, text]),
    '.TP',
    '.B 3',
    'An operation failed halfway and was taken back.',
    '.TP',
    '.B 70',
    'A defect in Pionero itself.',
    '.SH FILES',
    '.TP',
    '.I pionero.yaml',
    'Settings of a theme, or of all themes below a folder.',
    '.TP',
    '.I $XDG_CONFIG_HOME/pionero/config.yaml',
    'What your new themes start with; platform files of your own are in the folder platforms beside it.',
    '.TP',
    '.I $XDG_STATE_HOME/pionero/journal',
    'What pionero undo reads.',
    '.TP',
    '.I $XDG_CACHE_HOME/pionero',
    'What earlier checks found. It can be deleted at any time.',
    '',
  ].join('\n');
}

function commandLines(name: string, summary: string, command: Command): string[] {
  const forms = command.arguments.map(({ form }) => ` \\fI${escape(form)}\\fR`).join('');
  const own = optionsOf(command).filter(
    ({ name: option }) => !Object.hasOwn(commonOptions, option) || Object.hasOwn(command.options, option),
  );
  return [
    `.SS "pionero ${name}"`,
    `\\fBpionero ${name}\\fR${forms}`,
    '.PP',
    escape(`${summary.charAt(0).toUpperCase()}${summary.slice(1)}.`),
    ...command.arguments.flatMap(({ form, about }) => ['.TP', `.I ${escape(form)}`, escape(about)]),
    ...own.flatMap(optionLines),
    '.PP',
    'Examples:',
    '.nf',
    ...command.examples.map((example) => escape(`  ${example}`)),
    '.fi',
  ];
}

function optionLines({ flag, value, about, choices }: OptionFacts): string[] {
  const named = value === undefined ? '' : ` \\fI${escape(value)}\\fR`;
  return ['.TP', `\\fB${escape(flag)}\\fR${named}`, escape(choices.length === 0 ? about : `${about}: ${choices.join(', ')}`)];
}

/** A line must not begin with a request, and a dash is a minus. */
function escape(text: string): string {
  return text
    .replaceAll('\\', '\\e')
    .replaceAll('-', '\\-')
    .replace(/^([.'])/, '\\&$1');
}
