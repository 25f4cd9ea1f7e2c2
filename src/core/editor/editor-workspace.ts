import { dirname } from 'node:path';
import { PioneroError } from '../errors.ts';
import { isWithin, pathFrom } from '../files/paths.ts';
import { shippedPlatforms } from '../platform/load.ts';
import type { Platform } from '../platform/platform.ts';
import { isTheme } from '../theme/find-themes.ts';
import { chainOf, openChain, type Chain } from '../theme/chain.ts';
import { openThemeFolder, type OpenedTheme, type OpenOptions } from '../theme/open.ts';
import { isCalledLikeTheme, isOneFile } from '../theme/place.ts';
import { Theme } from '../theme/theme.ts';
import { OverlayTree } from './overlay-tree.ts';

/** A file of a theme as an editor has it, with all that the theme builds on. */
export interface EditedFile {
  readonly opened: OpenedTheme;
  /** The theme, with the editor's texts laid over the disk. */
  readonly theme: Theme;
  readonly chain: Chain;
  /** From the theme's root. */
  readonly path: string;
}

/** U+FEFF in UTF-8. */
const MARK = Buffer.from('\uFEFF');

/** The themes of an editor: files on disk, with the texts that are open laid over them. Paths are absolute. */
export class EditorWorkspace {
  readonly #options: OpenOptions;
  readonly #texts = new Map<string, Buffer>();
  /** By folder: that of the theme that it lies in. */
  readonly #folders = new Map<string, string | undefined>();
  readonly #opened = new Map<string, OpenedTheme | PioneroError>();
  readonly #edited = new Map<string, { readonly theme: Theme; readonly chain: Chain }>();

  /** The folders that people have open; absolute. */
  homes: readonly string[] = [];

  constructor(options: OpenOptions) {
    this.#options = options;
  }

  /** Takes the text of a file over from the editor; undefined: the disk has it again. */
  setText(file: string, text: string | undefined): void {
    if (text === undefined) this.#texts.delete(file);
    else this.#texts.set(file, Buffer.from(text));
    // A parent that changes is another one for its children.
    this.#edited.clear();
  }

  /** The files whose texts the editor has. */
  get openFiles(): readonly string[] {
    return [...this.#texts.keys()];
  }

  /** Whether the editor has a file as it is on disk. @param bytes those on disk; undefined when it is not there */
  isSaved(file: string, bytes: Buffer | undefined): boolean {
    const text = this.#texts.get(file);
    return text === undefined || (bytes !== undefined && text.equals(bytes));
  }

  /** The text that the editor has of a file; undefined: none. */
  textOf(file: string): string | undefined {
    return this.#texts.get(file)?.toString();
  }

  /** Forgets where themes are: files came or went. */
  forgetPlaces(): void {
    this.#folders.clear();
  }

  /** Forgets what was read: files on disk have changed. @param folder of the theme that alone is meant */
  reload(folder?: string): void {
    this.#folders.clear();
    if (folder === undefined) this.#opened.clear();
    else this.#opened.delete(folder);
    this.#edited.clear();
  }

  /** The folder of the theme that a file belongs to, or the file that is one; undefined when it belongs to none. */
  themeFolderOf(file: string): string | undefined {
    // Which folder is a theme's is asked with every key that is pressed, and only what is on disk decides it.
    const platforms = this.#options.platforms?.() ?? shippedPlatforms();
    const single = platforms.filter((platform) => isCalledLikeTheme(platform, file));
    if (single.length > 0 && isTheme(file, single)) return file;
    return this.#folderAt(dirname(file), platforms);
  }

  #folderAt(at: string, platforms: readonly Platform[]): string | undefined {
    if (dirname(at) === at) return undefined;
    if (!this.#folders.has(at)) this.#folders.set(at, isTheme(at, platforms) ? at : this.#folderAt(dirname(at), platforms));
    return this.#folders.get(at);
  }

  /** A file as the editor has it; undefined when it belongs to no theme that can be opened. */
  fileAt(file: string): EditedFile | undefined {
    const folder = this.themeFolderOf(file);
    const opened = folder === undefined ? undefined : this.opened(folder);
    return opened === undefined ? undefined : this.fileIn(opened, file);
  }

  /** A file of a theme as the editor has it. @param file absolute */
  fileIn(opened: OpenedTheme, file: string): EditedFile {
    return { opened, ...this.edited(opened), path: placeIn(opened, file) };
  }

  /** A theme as it lies on disk; undefined when it cannot be opened: see {@link failureOf}. @param folder absolute */
  opened(folder: string): OpenedTheme | undefined {
    const opened = this.#open(folder);
    return opened instanceof PioneroError ? undefined : opened;
  }

  /** Why a theme cannot be opened; undefined when it can. @param folder absolute */
  failureOf(folder: string): PioneroError | undefined {
    const opened = this.#open(folder);
    return opened instanceof PioneroError ? opened : undefined;
  }

  #open(folder: string): OpenedTheme | PioneroError {
    const known = this.#opened.get(folder);
    if (known !== undefined) return known;
    let opened: OpenedTheme | PioneroError;
    try {
      opened = openThemeFolder(folder, { ...this.#options, isLenient: true, currentFolder: this.homeOf(folder) });
    } catch (error) {
      if (!(error instanceof PioneroError)) throw error;
      opened = error;
    }
    this.#opened.set(folder, opened);
    return opened;
  }

  /** The folder that messages name places from: the one that people have open, else the one around the theme. */
  homeOf(folder: string): string {
    return this.homes.find((home) => isWithin(folder, home)) ?? dirname(folder);
  }

  /** A theme, and what it builds on, with the editor's texts. */
  edited(opened: OpenedTheme): { readonly theme: Theme; readonly chain: Chain } {
    const known = this.#edited.get(opened.folder);
    if (known !== undefined) return known;
    const theme = this.#withTexts(opened.theme, opened.folder);
    const chain = theme === opened.theme ? opened.chain : openChain(theme, opened.shelves);
    const [, ...parents] = chain.themes;
    const edited = parents.map((parent) => this.#withTexts(parent, parent.place));
    const isSame = edited.every((parent, i) => parent === parents[i]);
    const made = { theme, chain: isSame ? chain : chainOf(chain, [theme, ...edited]) };
    this.#edited.set(opened.folder, made);
    return made;
  }

  #withTexts(theme: Theme, folder: string | undefined): Theme {
    if (folder === undefined) return theme;
    const texts = new Map<string, Buffer>();
    for (const [file, bytes] of this.#texts) {
      if (!isWithin(file, folder)) continue;
      const path = isOneFile(theme.platform) ? (theme.tree.entries[0]?.path ?? '') : pathFrom(folder, file);
      const original = theme.tree.get(path)?.kind === 'file' ? theme.source(path)?.original : undefined;
      // Editors keep a byte-order mark to themselves.
      const text = original?.subarray(0, MARK.length).equals(MARK) === true ? Buffer.concat([MARK, bytes]) : bytes;
      if (original?.equals(text) !== true) texts.set(path, text);
    }
    return texts.size === 0 ? theme : theme.over(new OverlayTree(theme.tree, texts));
  }
}

/** The path of a file in its theme. */
function placeIn({ theme, folder }: OpenedTheme, file: string): string {
  return isOneFile(theme.platform) ? (theme.tree.entries[0]?.path ?? '') : pathFrom(folder, file);
}
