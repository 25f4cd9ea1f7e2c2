import { commonOptions, defineCommand, type Command } from './command.ts';
import { optionsOf, type OptionFacts } from './describe.ts';
import { ExitStatus } from './exit-status.ts';

/** The exit statuses, for the pages that explain the command line. */
export const STATUSES = [
  [ExitStatus.ok, 'All is well'],
  [ExitStatus.findings, 'Findings of severity error, or a refused operation'],
  [ExitStatus.usage, 'The command line or a configuration file is wrong'],
  [ExitStatus.failed, 'An operation failed halfway, or was interrupted, and was taken back'],
  [ExitStatus.defect, 'A defect in Pionero itself'],
] as const;

export const ENVIRONMENT = [
  ['PIONERO_TOKEN', 'The token that a catalogue knows you by, in place of the file of tokens.'],
  ['NO_COLOR, FORCE_COLOR', 'Print no colors, or print them where no terminal is.'],
  ['SOURCE_DATE_EPOCH', 'The time, in seconds since 1970, that archives give to files whose time is not known.'],
  ['XDG_CONFIG_HOME, XDG_STATE_HOME, XDG_CACHE_HOME', 'Where settings, the journal of changes, and what can be deleted are kept.'],
  ['LANG', 'The language of the terminal decides which signs it can show.'],
] as const;

export const FILES = [
  ['pionero.yaml', 'Settings of a theme, or of all themes below a folder.'],
  ['pionero.overrides.yaml', 'In a child theme: which files it took from its parents, and what they were.'],
  ['$XDG_CONFIG_HOME/pionero/tokens.yaml', 'By whom catalogues know you; nobody else may read it.'],
  [
    '$XDG_CONFIG_HOME/pionero/config.yaml',
    'What your new themes start with; your own platform files are in the folder platforms beside it.',
  ],
  ['$XDG_STATE_HOME/pionero/journal', 'What pionero undo reads.'],
  ['$XDG_CACHE_HOME/pionero', 'What earlier checks found. It can be deleted at any time.'],
] as const;

/** The options of a command besides the common ones; and those of these that it words in its own way. */
export function ownOptionsOf(command: Command): OptionFacts[] {
  return optionsOf(command).filter(({ name }) => !Object.hasOwn(commonOptions, name) || Object.hasOwn(command.options, name));
}

/** The options that every command has. */
export function commonOptionsOf(): OptionFacts[] {
  return optionsOf(defineCommand({ arguments: [], options: {}, examples: [], run: async () => ExitStatus.ok }));
}
