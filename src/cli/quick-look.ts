import { EditorWorkspace } from '../core/editor/editor-workspace.ts';
import { judgeFile } from '../core/editor/judging.ts';
import { kindOnDisk, readIfThere } from '../core/files/disk.ts';
import type { CheckedFolder } from '../core/rules/engine/check-folders.ts';
import type { OpenOptions } from '../core/theme/open.ts';

/** Judges a file that was saved by itself, in a small part of the time that its whole theme takes. */
export class QuickLook {
  readonly #opening: OpenOptions;
  #workspace: EditorWorkspace;

  constructor(opening: OpenOptions) {
    this.#opening = opening;
    this.#workspace = new EditorWorkspace(opening);
  }

  /** Forgets how themes were: files came or went. */
  forget(): void {
    this.#workspace = new EditorWorkspace(this.#opening);
  }

  /**
   * A theme's findings with those in one of its files as it is now: those that need no other file are new.
   * @param path absolute
   * @returns undefined for a new file, and for one that holds no text
   */
  withFile(checked: CheckedFolder, path: string): CheckedFolder | undefined {
    const opened = this.#workspace.opened(checked.folder);
    const text = kindOnDisk(path) === 'file' ? readIfThere(path)?.toString('utf8') : undefined;
    if (opened === undefined || text === undefined) return undefined;
    const file = this.#workspace.fileIn(opened, path);
    if (opened.theme.source(file.path) === undefined) return undefined;
    this.#workspace.setText(path, text);
    const { findings } = checked.result;
    const isHere = (each: { readonly file: string }): boolean => each.file === file.path;
    const now = judgeFile(this.#workspace.fileIn(opened, path), findings.filter(isHere));
    const first = findings.findIndex(isHere);
    const others = findings.filter((each) => !isHere(each));
    return { ...checked, result: { ...checked.result, findings: others.toSpliced(first < 0 ? others.length : first, 0, ...now) } };
  }
}
