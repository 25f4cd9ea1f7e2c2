import { findConfiguration } from '../core/configuration/configuration.ts';
import { PioneroError } from '../core/errors.ts';
import { displayPath, withSlashes } from '../core/files/paths.ts';
import { platformsIn, shippedPlatforms } from '../core/platform/load.ts';
import { rulesUnder } from '../core/rules/engine/own-rules.ts';
import { listKits } from '../core/scaffold/kits.ts';
import { findThemes } from '../core/theme/find-themes.ts';
import { COMMANDS } from './command-table.ts';
import type { Command } from './command.ts';
import { actionIn, argumentFilling, optionsOf, type Filling, type OptionFacts } from './describe.ts';
import { type Io } from './io.ts';
import { userPlatformFolder } from './own-folders.ts';

/** A line for the shell: the word, and after a tab what it is. A line `:file` or `:folder` lets the shell propose its own. */
type Line = string;

const line = (word: string, about: string): Line => `${word}\t${about}`;

/**
 * The candidates for the end of a command line.
 * @param words those after the program’s name; the last is what was typed of the one to complete, '' when nothing was
 */
export async function completions(words: readonly string[], io: Io): Promise<Line[]> {
  // Paths are proposed with slashes, which every shell takes.
  const typed = withSlashes(words.at(-1) ?? '');
  const before = words.slice(0, -1);
  const entry = COMMANDS.find(({ name }) => name === before.find((word) => !word.startsWith('-')));
  const proposals =
    entry === undefined
      ? COMMANDS.map(({ name, summary }) => line(name, summary))
      : await ofCommand((await entry.load()).default, before, typed, io);
  return [...new Set(proposals)].filter((each) => each.startsWith(typed) || each.startsWith(':'));
}

async function ofCommand(command: Command, before: readonly string[], typed: string, io: Io): Promise<Line[]> {
  const words = before.slice(before.findIndex((word) => !word.startsWith('-')) + 1);
  const action = actionIn(command, words)?.facts;
  const options = optionsOf(command, action);
  const waiting = options.find(({ flag, value }) => flag === before.at(-1) && value !== undefined);
  if (waiting !== undefined) return waiting.choices.length > 0 ? [...waiting.choices] : filled(waiting.fills, io, before);
  if (typed.startsWith('-'))
    return options.filter(({ flag, isList }) => isList || !before.includes(flag)).map(({ flag, about }) => line(flag, about));
  const position = positionals(before, options) - 1;
  // The action itself is the first of the words.
  const all = action === undefined ? command.arguments : [...command.arguments.slice(0, 1), ...action.arguments];
  const argument = all[Math.min(position, all.length - 1)];
  if (argument === undefined) return [];
  return argument.choices === undefined ? filled(argumentFilling(argument), io, before) : [...argument.choices];
}

/** How many words are neither options nor their values; the command is the first. */
function positionals(words: readonly string[], options: readonly OptionFacts[]): number {
  const takesValue = new Set(options.filter(({ value }) => value !== undefined).map(({ flag }) => flag));
  return words.filter((word, i) => !word.startsWith('-') && !takesValue.has(words[i - 1] ?? '')).length;
}

/** The candidates of each kind, from the files around. Unreadable files propose nothing. */
function filled(fills: Filling | undefined, io: Io, before: readonly string[]): Line[] {
  try {
    return fills === undefined ? [] : CANDIDATES[fills](io, before);
  } catch (error) {
    if (error instanceof PioneroError) return [];
    throw error;
  }
}

const CANDIDATES: Readonly<Record<Filling, (io: Io, before: readonly string[]) => Line[]>> = {
  file: () => [':file'],
  folder: () => [':folder'],
  platform: (io) => [...platforms(io).map(({ contract }) => line(contract.name, contract.summary)), ':file'],
  rule: (io) => rulesUnder(findConfiguration(io.folder)).map(({ meta }) => line(meta.id, meta.summary)),
  theme: (io) => [...themes(io), ':folder'],
  kit: (io, before) => {
    const named = before[before.indexOf('--platform') + 1];
    const chosen = platforms(io).filter(({ contract }) => !before.includes('--platform') || contract.name === named);
    return [...chosen.flatMap((platform) => listKits({ platform }).map(({ name, title }) => line(name, title))), ':folder'];
  },
};

function platforms({ env }: Io) {
  const folder = userPlatformFolder(env);
  return [...shippedPlatforms(), ...platformsIn(folder, folder)];
}

function themes(io: Io): Line[] {
  return findThemes(io.folder, platforms(io)).themes.map((theme) => line(displayPath(theme, io.folder), 'a theme'));
}
