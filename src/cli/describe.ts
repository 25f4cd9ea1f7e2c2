import type { Option } from './option.ts';
import { commonOptions, type ActionFacts, type Command, type CommandArgument } from './command.ts';

/** The kinds of values, for shells that complete them. */
export type Filling = 'theme' | 'rule' | 'platform' | 'kit' | 'file' | 'folder';

/** An option as the command line has it. Flags, help, completion and the manual page come from this. */
export interface OptionFacts {
  /** As the command’s code calls it. */
  readonly name: string;
  /** With its dashes. */
  readonly flag: string;
  readonly about: string;
  /** What its value is called; undefined when it takes none. */
  readonly value: string | undefined;
  readonly isList: boolean;
  /** The only values that it takes; none when it takes others. */
  readonly choices: readonly string[];
  readonly fills: Filling | undefined;
  /** The flag that it had before; not shown. */
  readonly formerFlag: string | undefined;
}

/** The meaning of a value of each kind. */
const FILLINGS: Readonly<Record<string, Filling>> = {
  DIR: 'folder',
  FILE: 'file',
  'NAME|FILE': 'platform',
  'NAME|PATH': 'kit',
  THEME: 'theme',
  ID: 'theme',
  themes: 'theme',
  theme: 'theme',
  source: 'theme',
  words: 'theme',
  rule: 'rule',
  platform: 'platform',
  kit: 'kit',
  reports: 'file',
};

/** All options of a command, the common ones first; of one action of it, where that is named. */
export function optionsOf(command: Command, action?: ActionFacts): OptionFacts[] {
  const all = Object.entries({ ...commonOptions, ...command.options });
  return all.filter(([name]) => action === undefined || isOptionOf(action, name)).map(([name, option]) => optionFacts(name, option));
}

/** Whether an option of a command means something to one of its actions. */
export function isOptionOf({ options }: ActionFacts, name: string): boolean {
  return options.includes(name) || Object.hasOwn(commonOptions, name);
}

/** The action that the words of a command line after the command name; undefined where they name none. */
export function actionIn(
  { actions }: Command,
  words: readonly string[],
): { readonly name: string; readonly facts: ActionFacts } | undefined {
  const name = words.find((word) => !word.startsWith('-')) ?? '';
  const facts = actions !== undefined && Object.hasOwn(actions, name) ? actions[name] : undefined;
  return facts === undefined ? undefined : { name, facts };
}

function optionFacts(name: string, { about, value, isList, choices, initial, formerly }: Option): OptionFacts {
  const plain = plainOf(name);
  return {
    name,
    // A switch that is on by default can only be switched off.
    flag: initial === true ? `--no-${plain}` : `--${plain}`,
    about,
    value,
    isList,
    choices,
    fills: value === undefined ? undefined : FILLINGS[value],
    formerFlag: formerly === undefined ? undefined : `--${plainOf(formerly.name)}`,
  };
}

/** An option's name in code as the command line has it: dry-run for dryRun. */
function plainOf(name: string): string {
  return name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`);
}

/** The flags of options that an action lists by their names in code. */
export function flagsOf(names: readonly string[]): string[] {
  return names.map((name) => `--${plainOf(name)}`);
}

/** The purpose of an option, with its values where the words do not name them. */
export function saidOf({ about, choices }: Pick<OptionFacts, 'about' | 'choices'>): string {
  return choices.every((choice) => about.includes(choice)) ? about : `${about}: ${choices.join(', ')}`;
}

/** The name of an argument without its brackets and dots. */
export function argumentName({ form }: CommandArgument): string {
  return form.replace(/[<>[\].]/g, '');
}

/** The kind of value that an argument of a command takes. */
export function argumentFilling(argument: CommandArgument): Filling | undefined {
  return FILLINGS[argumentName(argument)];
}
