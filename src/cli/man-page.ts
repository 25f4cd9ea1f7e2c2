import { COMMANDS } from './command-table.ts';
import type { ActionFacts, Command } from './command.ts';
import { flagsOf, saidOf, type OptionFacts } from './describe.ts';
import { commonOptionsOf, ENVIRONMENT, FILES, ownOptionsOf, STATUSES } from './reference.ts';

/** The manual page in the language of man(7), made from the commands themselves. */
export async function manPage(version: string): Promise<string> {
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
    ...commonOptionsOf().flatMap(optionLines),
    '.SH EXIT STATUS',
    ...STATUSES.flatMap(([status, about]) => ['.TP', `.B ${status}`, `${about}.`]),
    '.SH ENVIRONMENT',
    ...ENVIRONMENT.flatMap(([name, about]) => ['.TP', `.B ${name}`, about]),
    '.SH FILES',
    ...FILES.flatMap(([file, about]) => ['.TP', `.I ${file}`, about]),
    '',
  ].join('\n');
}

function commandLines(name: string, summary: string, command: Command): string[] {
  const forms = command.arguments.map(({ form }) => ` \\fI${escape(form)}\\fR`).join('');
  return [
    `.SS "pionero ${name}"`,
    `\\fBpionero ${name}\\fR${forms}`,
    '.PP',
    escape(`${summary.charAt(0).toUpperCase()}${summary.slice(1)}.`),
    ...command.arguments.flatMap(({ form, about }) => ['.TP', `.I ${escape(form)}`, escape(about)]),
    ...Object.entries(command.actions ?? {}).flatMap(([action, facts]) => actionLines(name, action, facts)),
    ...ownOptionsOf(command).flatMap(optionLines),
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
  const flags = flagsOf(options);
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
