import { existsSync } from 'node:fs';
import { setImmediate as turn } from 'node:timers/promises';
import type { Finding } from '../../core/rules/engine/check.ts';
import type { EditedFile, EditorWorkspace } from '../../core/editor/editor-workspace.ts';
import { judgeFile, judgeInSlices } from '../../core/editor/judging.ts';
import { isOwnFile } from '../../core/editor/own-file-names.ts';
import { ownProblems } from '../../core/editor/own-files.ts';
import { byFile, type FindingsByFile } from '../../core/editor/session.ts';
import { ConfigurationError, type ConfigurationProblem } from '../../core/errors.ts';
import type { HouseRules } from './house-rules.ts';
import type { Chain } from '../../core/theme/chain.ts';
import { placeOf } from './places.ts';

/** Milliseconds that are waited for: those in which many changes come at once, and those of a thought. */
const RUSH_MS = 50;
const THOUGHT_MS = 350;

/** A finding of a rule, or a mistake in a file of Pionero's own. */
export type Told =
  { readonly kind: 'finding'; readonly finding: Finding } | { readonly kind: 'mistake'; readonly problem: ConfigurationProblem };

/** Takes the findings and mistakes of a file, by its absolute path, whenever they may be others. */
type Publish = (file: string, told: readonly Told[]) => void;

/** Keeps the findings of the themes that an editor works on: at once those of the file that changes, soon those of all. */
export class Judge {
  readonly #workspace: EditorWorkspace;
  readonly #house: HouseRules;
  readonly #publish: Publish;
  readonly #log: (message: string) => void;
  /** By theme folder: the findings of the last whole check. */
  readonly #known = new Map<string, FindingsByFile>();
  /** By theme folder: the files that its findings, or the mistakes in its configuration, were published for; absolute. */
  readonly #published = new Map<string, ReadonlySet<string>>();
  /** By theme folder: how often it changed. A check of an older state is given up. */
  readonly #turns = new Map<string, number>();
  readonly #timers = new Map<string, NodeJS.Timeout>();
  readonly #waiting = new Set<string>();
  #isRunning = false;
  #isClosed = false;
  #lastChange = -Infinity;

  /** @param log takes why a file or a theme could not be judged */
  constructor(workspace: EditorWorkspace, house: HouseRules, publish: Publish, log: (message: string) => void) {
    this.#house = house;
    this.#log = log;
    this.#workspace = workspace;
    this.#publish = publish;
  }

  /** Judges themes that are new here. @param folders absolute */
  follow(folders: readonly string[]): void {
    for (const folder of folders) if (!this.#turns.has(folder)) this.#soon(folder, 0);
  }

  /** A text in the editor changed: its file is judged at once, its theme and the themes that build on it a little later. */
  changed(file: string): void {
    // A single keystroke is answered at once; of a rush of changes the last one is.
    const isRush = performance.now() - this.#lastChange < RUSH_MS;
    this.#lastChange = performance.now();
    this.#later(file, isRush ? RUSH_MS : 0, () => this.#judgeOne(file));
    const folder = this.#workspace.themeFolderOf(file);
    if (folder === undefined) return;
    this.#soon(folder, THOUGHT_MS);
    for (const other of this.#turns.keys()) if (other !== folder && this.#buildsOn(other, folder)) this.#soon(other, THOUGHT_MS);
  }

  /**
   * Files on disk changed, came or went: thousands at once when someone changes to another branch.
   * @returns whether there may be other themes now
   */
  onDisk(files: readonly string[]): boolean {
    this.#workspace.forgetPlaces();
    this.#house.forget();
    const known = [...this.#turns.keys()];
    const folders = new Set(files.map((file) => this.#workspace.themeFolderOf(file)));
    const changed = [...folders].flatMap((folder) => folder ?? []);
    // Configurations and platform files, or a theme that comes or goes: whoever builds on it may be another one.
    const isAll = folders.has(undefined) || changed.some((folder) => !this.#turns.has(folder));
    const meant = known.filter((each) => isAll || this.#lacksParent(each) || changed.some((folder) => this.#buildsOn(each, folder)));
    if (isAll) this.#workspace.reload();
    for (const each of new Set([...changed, ...meant])) {
      this.#workspace.reload(each);
      this.#soon(each, RUSH_MS);
    }
    return isAll;
  }

  /** The findings in a file as it is now. */
  findingsIn(file: EditedFile): readonly Finding[] {
    return this.#house.beyondKnown(file.opened, judgeFile(file, this.#known.get(file.opened.folder)?.get(file.path) ?? []));
  }

  close(): void {
    this.#isClosed = true;
    for (const timer of this.#timers.values()) clearTimeout(timer);
    for (const folder of this.#turns.keys()) this.#turns.set(folder, NaN);
  }

  #later(key: string, milliseconds: number, work: () => void): void {
    if (this.#isClosed) return;
    clearTimeout(this.#timers.get(key));
    this.#timers.set(
      key,
      setTimeout(() => {
        this.#timers.delete(key);
        this.#tried(work);
      }, milliseconds),
    );
  }

  /** A file that goes away while it is read must not end the server: what comes next is judged all the same. */
  #tried(work: () => void): void {
    try {
      work();
    } catch (error) {
      this.#log(String(error));
    }
  }

  #soon(folder: string, milliseconds: number): void {
    this.#turns.set(folder, (this.#turns.get(folder) ?? 0) + 1);
    this.#later(`theme ${folder}`, milliseconds, () => {
      this.#waiting.add(folder);
      if (!this.#isRunning) void this.#judgeWaiting();
    });
  }

  #judgeOne(file: string): void {
    const edited = this.#workspace.fileAt(file);
    if (edited !== undefined || this.#ownMistakes(file) !== undefined)
      this.#show(file, edited === undefined ? [] : this.findingsIn(edited).map(found));
  }

  /** The editor's text of a file of Pionero's own counts before the one on disk. */
  #show(file: string, told: readonly Told[]): void {
    this.#publish(file, this.#ownMistakes(file) ?? told);
  }

  #ownMistakes(file: string): Told[] | undefined {
    const text = isOwnFile(file) ? this.#workspace.textOf(file) : undefined;
    return text === undefined ? undefined : ownProblems(file, text)?.map(mistake);
  }

  async #judgeWaiting(): Promise<void> {
    this.#isRunning = true;
    for (const folder of this.#waiting) {
      this.#waiting.delete(folder);
      await turn();
      try {
        await this.#judgeAll(folder);
      } catch (error) {
        // A module of rules that fails has a mistake, at a line of it.
        if (error instanceof ConfigurationError) this.#tell(folder, mistakesByFile(error.problems));
        else this.#log(String(error));
      }
    }
    this.#isRunning = false;
  }

  /** Judges a theme; gives up when it changes meanwhile, since that begins another check. */
  async #judgeAll(folder: string): Promise<void> {
    const begun = this.#turns.get(folder);
    const opened = this.#workspace.opened(folder);
    if (opened === undefined) return this.#tellFailure(folder);
    const problems = await this.#house.load(opened);
    const result = await judgeInSlices({ opened, ...this.#workspace.edited(opened) }, () => this.#turns.get(folder) === begun);
    if (result === undefined) return;
    const findings = byFile(opened, result.findings);
    this.#known.set(folder, findings);
    const told = mistakesByFile(problems);
    for (const [path, own] of findings) {
      const place = placeOf(opened.theme, path);
      if (place !== undefined) told.set(place, [...(told.get(place) ?? []), ...this.#house.beyondKnown(opened, own).map(found)]);
    }
    this.#tell(folder, told);
  }

  /** A theme that cannot be opened is one no more, or what is configured for it is wrong. */
  #tellFailure(folder: string): void {
    this.#known.delete(folder);
    const failure = this.#workspace.failureOf(folder);
    this.#tell(folder, mistakesByFile(failure instanceof ConfigurationError ? failure.problems : []));
    if (!existsSync(folder)) this.#turns.delete(folder);
  }

  #tell(folder: string, told: ReadonlyMap<string, readonly Told[]>): void {
    const open = this.#workspace.openFiles.filter((file) => this.#workspace.themeFolderOf(file) === folder);
    for (const file of new Set([...(this.#published.get(folder) ?? []), ...open, ...told.keys()])) this.#show(file, told.get(file) ?? []);
    this.#published.set(folder, new Set(told.keys()));
  }

  #buildsOn(child: string, parent: string): boolean {
    return (
      this.#chainOf(child)
        ?.themes.slice(1)
        .some(({ place }) => place === parent) === true
    );
  }

  /** Whether a theme cannot be opened, or names a parent that is not there: a file on disk may bring it. */
  #lacksParent(folder: string): boolean {
    const chain = this.#chainOf(folder);
    return chain === undefined || chain.broken !== undefined;
  }

  #chainOf(folder: string): Chain | undefined {
    const opened = this.#workspace.opened(folder);
    return opened === undefined ? undefined : this.#workspace.edited(opened).chain;
  }
}

function mistakesByFile(problems: readonly ConfigurationProblem[]): Map<string, Told[]> {
  const told = new Map<string, Told[]>();
  for (const problem of problems) told.set(problem.file, [...(told.get(problem.file) ?? []), mistake(problem)]);
  return told;
}

function found(finding: Finding): Told {
  return { kind: 'finding', finding };
}

function mistake(problem: ConfigurationProblem): Told {
  return { kind: 'mistake', problem };
}
