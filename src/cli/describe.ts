import type { Option } from './option.ts';
import { commonOptions, type Command, type CommandArgument } from './command.ts';

/** What can stand where something is typed, for shells that complete it. */
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
}

/** What a value of each kind stands for. */
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

/** All options of a command, the common ones first. */
export function optionsOf(command: Command): OptionFacts[] {
  return Object.entries({ ...commonOptions, ...command.options }).map(([name, option]) => optionFacts(name, option));
}

function optionFacts(name: string, { about, value, isList, choices, initial }: Option): OptionFacts {
  const plain = name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`);
  return {
    name,
    // A switch that is on by default can only be switched off.
    flag: initial === true ? `--no-${plain}` : `--${plain}`,
    about,
    value,
    isList,
    choices,
    fills: value === undefined ? undefined : FILLINGS[value],
  };
}

/** The name of an argument without its brackets and dots. */
export function argumentName({ form }: CommandArgument): string {
  return form.replace(/[<>[\].]/g, '');
}

/** What an argument of a command is filled with. */
export function argumentFilling(argument: CommandArgument): Filling | undefined {
  return FILLINGS[argumentName(argument)];
}
