import { COMMANDS } from './command-table.ts';
import { commonOptions, defineCommand, type ActionFacts, type Command } from './command.ts';
import { ExitStatus } from './exit-status.ts';
import { optionsOf, saidOf, type OptionFacts } from './describe.ts';

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
    '.SH DESCRIPTION',
    'Pionero makes themes for content platforms: it scaffolds a theme from a starter kit, checks its manifest, headers, folders and files,',
    'renames it without a mention of the old name left, shows it in a stand\\-in host, and packs it for install or submission.',
    'Platform files say what each host expects; pionero platform list names those that come with it.',
    '.PP',
    'A command that changes files shows its plan first and asks; where nobody can be asked it needs \\fB\\-\\-yes\\fR. pionero undo reverts the last change.',
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
    '.SH ENVIRONMENT',
    ...ENVIRONMENT.flatMap(([name, about]) => ['.TP', `.B ${name}`, about]),
    '.SH FILES',
    '.TP',
    '.I pionero.yaml',
    'Settings of a theme, or of all themes below a folder.',
    '.TP',
    '.I pionero.overrides.yaml',
    'In a child theme: which files it took from its parents, and what they were.',
    '.TP',
    '.I $XDG_CONFIG_HOME/pionero/tokens.yaml',
    'By whom catalogues know you; nobody else may read it.',
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

const ENVIRONMENT = [
  ['PIONERO_TOKEN', 'The token that a catalogue knows you by, in place of the file of tokens.'],
  ['NO_COLOR, FORCE_COLOR', 'Print no colors, or print them where no terminal is.'],
  ['SOURCE_DATE_EPOCH', 'The time, in seconds since 1970, that archives give to files whose time is not known.'],
  ['XDG_CONFIG_HOME, XDG_STATE_HOME, XDG_CACHE_HOME', 'Where settings, the journal of changes, and what can be deleted are kept.'],
  ['LANG', 'The language of the terminal decides which signs it can show.'],
] as const;

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
    ...Object.entries(command.actions ?? {}).flatMap(([action, facts]) => actionLines(name, action, facts)),
    ...own.flatMap(optionLines),
    '.PP',
    'Examples:',
    '.nf',
    ...command.examples.map((example) => escape(`  ${example}`)),
    '.fi',
  ];
}

/** The lines on one action: its purpose, its arguments, and its options. */
function actionLines(command: string, action: string, { about, arguments: all, options }: ActionFacts): string[] {
  const forms = all.map(({ form }) => ` \\fI${escape(form)}\\fR`).join('');
  const flags = options.map((name) => `--${name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)}`);
  const has = flags.length === 0 ? '' : ` (${flags.join(', ')})`;
  return ['.TP', `\\fBpionero ${command} ${action}\\fR${forms}`, escape(`${about.charAt(0).toUpperCase()}${about.slice(1)}${has}.`)];
}

function optionLines({ flag, value, ...words }: OptionFacts): string[] {
  const named = value === undefined ? '' : ` \\fI${escape(value)}\\fR`;
  return ['.TP', `\\fB${escape(flag)}\\fR${named}`, escape(saidOf(words))];
}

/** A line must not begin with a request, and a dash is a minus. */
function escape(text: string): string {
  return text
    .replaceAll('\\', '\\e')
    .replaceAll('-', '\\-')
    .replace(/^([.'])/, '\\&$1');
}
