import { choice, flag, text, texts, whole, type Options, type Values } from './option.ts';
import { applyPlan, type ApplyOptions } from '../core/changes/apply.ts';
import { applyTogether } from '../core/changes/together.ts';
import type { ChangePlan } from '../core/changes/plan.ts';
import { Journal } from '../core/changes/journal.ts';
import type { ExitStatus } from './exit-status.ts';
import { type Io } from './io.ts';
import { journalFolder, userPlatformFolder } from './own-folders.ts';
import { PioneroError } from '../core/errors.ts';
import { placeOnDisk, realPlace } from '../core/files/disk.ts';
import { join } from 'node:path';
import type { CopiedFolder } from '../core/rules/engine/own-rules.ts';
import { findConfiguration } from '../core/configuration/configuration.ts';
import { displayPath, isWithin, pathFrom } from '../core/files/paths.ts';
import type { Platform } from '../core/platform/platform.ts';
import { choosePlatform, type OpenOptions, checkedShelves } from '../core/theme/open.ts';
import { Shelves } from '../core/theme/shelf.ts';
import { Paint } from './output/paint.ts';
import { visible } from './output/visible.ts';
import { shippedPlatforms, platformsIn } from '../core/platform/load.ts';

/** Options that every command has. */
export const commonOptions = {
  shelf: texts('DIR', 'a shelf: a folder whose subfolders are themes; repeatable'),
  platform: text('NAME|FILE', 'the platform, if it cannot be detected'),
  format: choice(['text', 'json'], 'FORMAT', 'text for people, or json', 'text'),
  quiet: flag('print only findings that affect the exit status'),
  verbose: flag('print every detail, and stack traces of defects'),
  color: flag('no colors', true),
};

/** Options of commands that change files. */
export const changeOptions = {
  dryRun: flag('show the plan and write nothing'),
  yes: flag('do not ask'),
};

/** Option of commands that have enough to do for several threads. */
export const jobsOption = {
  jobs: whole('N', 'threads that work at the same time; default: as many as the machine has', { from: 1 }),
};

export type CommonOptions = Values<typeof commonOptions>;
export type ChangeOptions = Values<typeof changeOptions>;

/** Everything a command works with. */
export class Context {
  readonly io: Io;
  readonly paint: Paint;
  readonly options: CommonOptions;
  /** Pionero's own. */
  readonly version: string;

  /** Whether what is asked once, such as whether a program may be run, is agreed to: --yes. */
  readonly isAgreeing: boolean;
  /** The copy of a folder that is worked on in its place; undefined where no copy is. */
  readonly copy: CopiedFolder | undefined;
  /** Remarks that were made once and need not be repeated. */
  readonly mentioned = new Set<string>();

  /** Runs another command line, in other surroundings. */
  readonly runLine: (argv: readonly string[], io: Io) => Promise<ExitStatus>;

  #workspacePlatform: { readonly named: string | undefined } | undefined;

  constructor(
    io: Io,
    options: CommonOptions,
    { version, runLine, isAgreeing, copy }: Pick<Context, 'version' | 'runLine' | 'isAgreeing'> & { readonly copy?: CopiedFolder },
  ) {
    this.copy = copy;
    this.version = version;
    this.isAgreeing = isAgreeing;
    this.runLine = runLine;
    this.io = io;
    this.options = options;
    this.paint = new Paint(io.hasColor && options.color);
  }

  /** The same, in a copy of a folder around here: what is named from outside it stays where it is. */
  inCopy(copy: CopiedFolder): Context {
    const placed = (path: string): string => (isWithin(path, copy.of) ? join(copy.folder, pathFrom(copy.of, path)) : path);
    const { platform, shelf } = this.options;
    const isFile = platform !== undefined && /[/\\]|\.ya?ml$/.test(platform);
    const options = {
      ...this.options,
      shelf: shelf.map((each) => placed(this.path(each))),
      platform: isFile ? placed(this.path(platform)) : platform,
    };
    return new Context({ ...this.io, folder: placed(realPlace(this.io.folder)) }, options, {
      version: this.version,
      runLine: this.runLine,
      isAgreeing: this.isAgreeing,
      copy,
    });
  }

  /** The place that a path in a copy stands for. */
  original(path: string): string {
    const { copy } = this;
    return copy !== undefined && isWithin(path, copy.folder) ? join(copy.of, pathFrom(copy.folder, path)) : path;
  }

  /** The absolute path of what an argument or option names. */
  path(argument: string): string {
    return placeOnDisk(this.io.folder, argument);
  }

  /** A path as people would type it here. */
  shown(path: string): string {
    return displayPath(path, this.io.folder);
  }

  /** How themes are looked for, as the command line says it. */
  get opening(): OpenOptions {
    const { platform, shelf } = this.options;
    return { currentFolder: this.io.folder, platform, shelves: shelf, platforms: this.platforms, preferred: this.workspacePlatform };
  }

  /** The platform that the configuration around the current folder names. */
  get workspacePlatform(): string | undefined {
    try {
      return (this.#workspacePlatform ??= { named: findConfiguration(this.io.folder).platform }).named;
    } catch (error) {
      // Whatever the configuration decides reports its mistakes.
      if (error instanceof PioneroError) return undefined;
      throw error;
    }
  }

  /** The shelves that the command line names, and more folders. @throws UsageError when one that it names is not there */
  shelvesOf(platform: Platform, ...more: readonly string[]): Shelves {
    return new Shelves(platform, [...checkedShelves(this.opening), ...more], this.io.folder);
  }

  /** A platform by name or file. @throws UsageError when there is none */
  platformNamed(wanted: string): Platform {
    return choosePlatform(wanted, this.opening);
  }

  /** The platform that the command line names, else all. */
  possiblePlatforms(): readonly Platform[] {
    const { platform } = this.options;
    return platform === undefined ? this.platforms() : [this.platformNamed(platform)];
  }

  get isMachine(): boolean {
    return this.options.format !== 'text';
  }

  /** The platforms that can be named: the shipped ones, and those in the user's folder. */
  readonly platforms = (): readonly Platform[] => {
    const folder = userPlatformFolder(this.io.env);
    return [...shippedPlatforms(), ...platformsIn(folder, folder)];
  };

  get journal(): Journal {
    return new Journal(journalFolder(this.io.env));
  }

  /** Prints for people: to standard error when standard output carries a machine format. */
  say(text: string): void {
    if (this.options.quiet && !this.isMachine) return;
    if (!this.isMachine) this.print(text);
    else if (this.options.verbose) this.io.stderr.write(`${visible(text)}\n`);
  }

  /** Prints what must be seen even with --quiet. */
  warn(text: string): void {
    if (this.isMachine) this.io.stderr.write(`${visible(text)}\n`);
    else this.print(text);
  }

  /** Prints for people on standard output. Nothing in the text is obeyed by the terminal but our own colors. */
  print(text: string): void {
    this.io.stdout.write(`${visible(text)}\n`);
  }

  /** Prints the result in JSON, when that was asked for. */
  result(value: unknown): void {
    if (this.isMachine) this.io.stdout.write(`${JSON.stringify(value, null, 2)}\n`);
  }

  /** Does work that Ctrl-C and its like break off and take back, with what applying a plan needs. */
  async changing<T>(work: (options: ApplyOptions) => Promise<T>): Promise<T> {
    return this.io.withInterrupt((signal) => work({ journal: this.journal, now: this.io.now(), signal }));
  }

  /** Applies a change plan, or takes back what was done of it. */
  async apply(plan: ChangePlan): Promise<void> {
    await this.changing((options) => applyPlan(plan, options));
  }

  /** Applies plans for several folders, all or none. */
  async applyAll(plans: readonly ChangePlan[]): Promise<void> {
    await this.changing((options) => applyTogether(plans, options));
  }
}

export interface CommandArgument {
  /** As in the help: `<id>`, `[theme]`, `[themes...]`. */
  readonly form: string;
  readonly about: string;
  /** The only words that it takes; any when left out. */
  readonly choices?: readonly string[] | undefined;
}

/** One of the things that a command with actions does. */
export interface ActionFacts {
  readonly about: string;
  readonly arguments: readonly CommandArgument[];
  /** The names of those of the command’s options that it has; every command’s, too. */
  readonly options: readonly string[];
  readonly examples: readonly string[];
}

/** One command: described by data, so that flags, help and documentation come from one place. */
export interface Command<O extends Options = Options> {
  readonly arguments: readonly CommandArgument[];
  /** The actions that the first argument can name. */
  readonly actions?: Readonly<Record<string, ActionFacts>> | undefined;
  readonly options: O;
  readonly examples: readonly string[];
  run(context: Context, args: readonly string[], options: Values<O>): Promise<ExitStatus>;
}

/** Keeps the options' types while a command is declared. */
export function defineCommand<const O extends Options>(command: Command<O>): Command<O> {
  return command;
}
