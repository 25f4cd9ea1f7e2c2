import type { ActionFacts, Command } from './command.ts';
import { COMMANDS } from './command-table.ts';
import { flagsOf, saidOf, type OptionFacts } from './describe.ts';
import { commonOptionsOf, ENVIRONMENT, FILES, ownOptionsOf, STATUSES } from './reference.ts';

/** The page of all commands in Markdown, made from the commands themselves. */
export async function commandsPage(): Promise<string> {
  const entries = await Promise.all(COMMANDS.map(async ({ name, summary, load }) => sectionOf(name, summary, (await load()).default)));
  return [
    '# Commands',
    '',
    'This page is for you if you know what you want to do and look for the option. It lists every command with its arguments and options; `pionero COMMAND --help` shows the same.',
    '',
    ...entries.flat(),
    '## Options of every command',
    '',
    ...optionTable(commonOptionsOf()),
    '## Exit statuses',
    '',
    ...table(
      ['status', 'meaning'],
      STATUSES.map(([status, about]) => [String(status), about]),
    ),
    '## Environment',
    '',
    ...table(
      ['variable', 'meaning'],
      ENVIRONMENT.map(([name, about]) => [code(name), about]),
    ),
    '## Files',
    '',
    ...table(
      ['file', 'meaning'],
      FILES.map(([name, about]) => [code(name), about]),
    ),
  ]
    .join('\n')
    .trimEnd()
    .concat('\n');
}

function sectionOf(name: string, summary: string, command: Command): string[] {
  return [
    `## ${name}`,
    '',
    `${capital(summary)}.`,
    '',
    ...(command.actions === undefined ? formOf(name, command) : actionsOf(name, command.actions)),
    ...optionTable(ownOptionsOf(command)),
    'Examples:',
    '',
    '```sh',
    ...command.examples,
    '```',
    '',
  ];
}

function formOf(name: string, command: Command): string[] {
  const form = ['pionero', name, ...command.arguments.map((each) => each.form), '[options]'].join(' ');
  const rows = command.arguments.map((each) => [code(each.form), each.about]);
  return ['```text', form, '```', '', ...(rows.length === 0 ? [] : table(['argument', 'meaning'], rows))];
}

function actionsOf(command: string, actions: Readonly<Record<string, ActionFacts>>): string[] {
  const rows = Object.entries(actions).map(([action, facts]) => {
    const forms = facts.arguments.map(({ form }) => ` ${form}`).join('');
    return [code(`pionero ${command} ${action}${forms}`), facts.about, flagsOf(facts.options).map(code).join(' ')];
  });
  return table(['action', 'meaning', 'options'], rows);
}

function optionTable(options: readonly OptionFacts[]): string[] {
  if (options.length === 0) return [];
  return table(
    ['option', 'meaning'],
    options.map((option) => [code(option.value === undefined ? option.flag : `${option.flag} ${option.value}`), saidOf(option)]),
  );
}

function table(head: readonly string[], rows: readonly (readonly string[])[]): string[] {
  const row = (cells: readonly string[]): string => `| ${cells.map((cell) => cell.replaceAll('|', '\\|')).join(' | ')} |`;
  return [row(head), `|${head.map(() => '---|').join('')}`, ...rows.map(row), ''];
}

function code(text: string): string {
  return `\`${text}\``;
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
