import { resolve } from 'node:path';
import { RefusedError } from '../errors.ts';
import { isWithin } from '../files/paths.ts';
import type { Finding } from '../rules/engine/check.ts';
import type { OpenedTheme, OpenOptions } from '../theme/open.ts';
import { mainFile } from '../theme/main-file.ts';
import { EditorWorkspace } from './editor-workspace.ts';
import { judgeFile, judgeInSlices } from './judging.ts';

/** Findings by the paths of files, from the theme's root; those about the whole theme at that of {@link mainFile}. */
export type FindingsByFile = ReadonlyMap<string, readonly Finding[]>;

/** A theme whose texts change, and its findings at any time. Nothing is written. */
export class EditSession {
  readonly #workspace: EditorWorkspace;
  readonly #opened: OpenedTheme;
  #known: FindingsByFile = new Map();
  #version = 0;

  constructor(folder: string, options: OpenOptions) {
    this.#workspace = new EditorWorkspace(options);
    const opened = this.#workspace.opened(folder);
    if (opened === undefined) throw this.#workspace.failureOf(folder) ?? new RefusedError({ what: `${folder} is not a theme` });
    this.#opened = opened;
  }

  /**
   * Takes the text of a file over, which need not be on disk, and returns its findings: at once those that need no other file;
   * those that do are of the last {@link findings}.
   * @param file from the theme's root, or absolute for a file of a parent
   * @param text undefined: what is on disk counts again
   */
  async update(file: string, text: string | undefined): Promise<readonly Finding[]> {
    this.#version++;
    const place = resolve(this.#opened.folder, file);
    this.#workspace.setText(place, text);
    if (!isWithin(place, this.#opened.folder)) return [];
    const edited = this.#workspace.fileIn(this.#opened, place);
    return judgeFile(edited, this.#known.get(edited.path) ?? []);
  }

  /**
   * Judges all of the theme as it is now, and lets others work meanwhile.
   * @returns undefined when it was canceled, or a text changed before it was done
   */
  async findings(signal?: AbortSignal): Promise<FindingsByFile | undefined> {
    const version = this.#version;
    const theme = { opened: this.#opened, ...this.#workspace.edited(this.#opened) };
    const result = await judgeInSlices(theme, () => version === this.#version && signal?.aborted !== true);
    if (result === undefined) return undefined;
    return (this.#known = byFile(this.#opened, result.findings));
  }
}

/** Findings by file; those about the theme as a whole stand in the file by which it is known. */
export function byFile({ theme }: OpenedTheme, findings: readonly Finding[]): FindingsByFile {
  const whole = mainFile(theme);
  const byPath = new Map<string, Finding[]>();
  for (const finding of findings) {
    const path = finding.file === '' ? whole : finding.file;
    const others = byPath.get(path);
    if (others === undefined) byPath.set(path, [finding]);
    else others.push(finding);
  }
  return byPath;
}

/**
 * Opens a theme to be judged while its texts change.
 * @param folder the theme's folder; a relative one counts from the current folder of the options
 * @throws PioneroError when it is not a theme, or its configuration is wrong
 */
export function openSession(folder: string, options: OpenOptions): EditSession {
  return new EditSession(resolve(options.currentFolder, folder), options);
}
