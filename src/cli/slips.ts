import type { CommanderError } from 'commander';
import { shippedPlatforms } from '../core/platform/load.ts';
import { COMMANDS } from './command-table.ts';
import { commonOptions } from './command.ts';

/** Words that people try first, and what they mean here. */
const MEANT: Readonly<Record<string, string>> = {
  add: 'new',
  build: 'pack',
  bump: 'meta bump',
  copy: 'clone',
  cp: 'clone',
  create: 'new',
  deploy: 'install',
  diff: 'drift',
  duplicate: 'clone',
  fix: 'check --fix',
  generate: 'new',
  import: 'harvest',
  info: 'meta show',
  init: 'new',
  kits: 'kit list',
  lint: 'check',
  list: 'platform list” or “pionero kit list',
  ls: 'platform list” or “pionero kit list',
  make: 'new',
  merge: 'drift --merge',
  move: 'rename',
  mv: 'rename',
  package: 'pack',
  platforms: 'platform list',
  preview: 'rehearse',
  revert: 'undo',
  rules: 'explain',
  scaffold: 'new',
  serve: 'rehearse',
  set: 'meta set',
  show: 'meta show',
  start: 'demo',
  test: 'check',
  try: 'rehearse',
  validate: 'check',
  verify: 'check',
  watch: 'check --watch',
  zip: 'pack',
};

const PLACES = ['to', 'out'];

/** Options that people try first, and what may be meant: the first that the command has. */
const MEANT_OPTIONS: Readonly<Record<string, readonly string[]>> = {
  child: ['parent'],
  debug: ['verbose'],
  dest: PLACES,
  destination: PLACES,
  dir: PLACES,
  directory: PLACES,
  exclude: ['without'],
  extends: ['parent'],
  f: ['force'],
  file: PLACES,
  folder: PLACES,
  from: ['kit'],
  ignore: ['without'],
  in: PLACES,
  include: ['only'],
  json: ['format json'],
  n: ['dry-run'],
  name: ['title'],
  o: ['out', 'to'],
  output: ['out', 'to'],
  overwrite: ['force'],
  path: PLACES,
  preview: ['dry-run'],
  q: ['quiet'],
  silent: ['quiet'],
  simulate: ['dry-run'],
  skip: ['without'],
  starter: ['kit'],
  target: PLACES,
  template: ['kit'],
  type: ['as'],
  v: ['verbose'],
  y: ['yes'],
};

/** A command line with the command at its beginning: options can stand before it, too. */
export function commandFirst(argv: readonly string[]): readonly string[] {
  const isCommand = (word: string | undefined): boolean => COMMANDS.some(({ name }) => name === word);
  let at = 0;
  while (argv[at]?.startsWith('--') === true && argv[at] !== '--') {
    const [, name = ''] = /^--([\w-]+)$/.exec(argv[at] ?? '') ?? [];
    const common = Object.hasOwn(commonOptions, name) ? commonOptions[name as keyof typeof commonOptions] : undefined;
    // The value of an option of one command cannot be told from a word; only the command itself can.
    const isFollowed = common === undefined ? /^--[\w-]+$/.test(argv[at] ?? '') && !isCommand(argv[at + 1]) : common.value !== undefined;
    at += isFollowed && argv[at + 1]?.startsWith('-') === false ? 2 : 1;
  }
  const word = argv[at];
  return at > 0 && word !== undefined && isCommand(word) ? [word, ...argv.slice(0, at), ...argv.slice(at + 1)] : argv;
}

/** Whether the word in the place of the command is one that people try first. */
export function isKnownSlip(argv: readonly string[]): boolean {
  return Object.hasOwn(MEANT, firstWord(argv));
}

function firstWord(argv: readonly string[]): string {
  return argv.find((each) => !each.startsWith('-')) ?? '';
}

/** `help` and `help COMMAND` ask for the same as `--help`; undefined where no help is asked for. */
export function helpAsked(argv: readonly string[]): string[] | undefined {
  const [first, second] = argv;
  if (first !== 'help') return undefined;
  return second !== undefined && COMMANDS.some(({ name }) => name === second) ? [second, '--help'] : ['--help'];
}

/** What to do about a command line that was not understood, where that can be guessed. @param flags the command’s options */
export function slipOf({ code, message }: CommanderError, argv: readonly string[], flags: readonly string[]): string | undefined {
  const word = firstWord(argv);
  if (code === 'commander.unknownCommand') {
    const meant = Object.hasOwn(MEANT, word) ? MEANT[word] : undefined;
    return meant === undefined ? '“pionero --help” lists the commands.' : `You may mean “pionero ${meant}”.`;
  }
  const help = COMMANDS.some(({ name }) => name === word) ? `${word} --help` : '--help';
  if (code === 'commander.unknownOption') {
    // One that is nearly written so was named already.
    if (message.includes('Did you mean')) return undefined;
    return factMeant(word, message) ?? optionMeant(message, flags) ?? `“pionero ${help}” lists the options.`;
  }
  const isShort = code === 'commander.missingArgument' || code === 'commander.optionMissingArgument';
  if (isShort || message.includes('Expected 0 arguments')) return `“pionero ${help}” says what it takes.`;
  if (code !== 'commander.excessArguments') return undefined;
  const words = argv.slice(argv.indexOf(word) + 1).filter((each) => !each.startsWith('-'));
  if (word !== 'new') return `A name with blanks needs quotes: "${words.join(' ')}".`;
  const title = words.join(' ');
  const shown = title.charAt(0).toUpperCase() + title.slice(1);
  return `An id is one word; the title can have more: pionero new ${words.join('-').toLowerCase()} --title "${shown}"`;
}

function optionMeant(message: string, flags: readonly string[]): string | undefined {
  const option = /'--?([\w-]+)/.exec(message)?.[1] ?? '';
  const meant = Object.hasOwn(MEANT_OPTIONS, option) ? MEANT_OPTIONS[option] : [];
  const found = meant?.find((each) => flags.includes(`--${each.split(' ')[0]}`));
  return found === undefined ? undefined : `You may mean --${found}.`;
}

/** Facts that people try as options: --author. Which there are is a matter of the platform, so they have one option together. */
function factMeant(command: string, message: string): string | undefined {
  const option = /'--(?:no-)?([A-Za-z][\w-]*)/.exec(message)?.[1];
  if (option === undefined || (command !== 'new' && command !== 'meta')) return undefined;
  const fact = option.replace(/-([a-z])/g, (_dash, letter: string) => letter.toUpperCase());
  const isFact = shippedPlatforms().some(({ contract }) =>
    contract.documents.some(({ fields }) => fields.some((field) => field.fact === fact)),
  );
  if (!isFact) return undefined;
  return command === 'new' ? `A fact is set with --set ${fact}="…".` : `A fact is set with pionero meta set ${fact}="…".`;
}
