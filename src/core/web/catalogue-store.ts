import { join } from 'node:path';
import { FailedOperationError, UsageError } from '../errors.ts';
import type { SubmissionState, ThemeEntry } from './catalogue-protocol.ts';

/** The record of a theme. */
export interface StoredTheme extends ThemeEntry {
  /** Who handed it in first: a hash of the token. */
  readonly owner: string;
  /** By version: the submission that it came with. */
  readonly archives: Readonly<Record<string, string>>;
}

/** The record of a submission. */
export interface StoredSubmission extends SubmissionState {
  readonly owner: string;
}

type Level = import('classic-level').ClassicLevel<string, unknown>;

/** The records of a catalogue: every change is there wholly or not at all, and on the disk when it is answered. */
export class CatalogueStore {
  readonly #level: Level;

  private constructor(level: Level) {
    this.#level = level;
  }

  /** @throws UsageError when another catalogue has the folder, or the store is not installed */
  static async open(folder: string): Promise<CatalogueStore> {
    const { ClassicLevel } = await import('classic-level').catch((cause: unknown) => {
      throw new UsageError({ what: 'the store of catalogues is not installed', hint: 'npm install -g classic-level', cause });
    });
    const level = new ClassicLevel<string, unknown>(join(folder, 'store'), { valueEncoding: 'json' });
    try {
      await level.open();
    } catch (error) {
      const isLocked = causeCode(error) === 'LEVEL_LOCKED';
      if (isLocked)
        throw new UsageError({
          what: `another catalogue is served from ${folder}`,
          hint: 'end it first, or name another folder',
          cause: error,
        });
      throw new FailedOperationError({
        what: `${folder} cannot be used as a catalogue`,
        hint: 'check that it may be written',
        cause: error,
      });
    }
    return new CatalogueStore(level);
  }

  async close(): Promise<void> {
    await this.#level.close();
  }

  async theme(platform: string, id: string): Promise<StoredTheme | undefined> {
    return (await this.#level.get(themeKey(platform, id))) as StoredTheme | undefined;
  }

  /** All themes, of one platform or of every one, by platform and id. */
  async themes(platform?: string): Promise<StoredTheme[]> {
    const start = platform === undefined ? 'theme!' : `theme!${platform}!`;
    return (await this.#level.values({ gte: start, lt: `${start}\uFFFF` }).all()) as StoredTheme[];
  }

  async submission(id: string): Promise<StoredSubmission | undefined> {
    return (await this.#level.get(`submission!${id}`)) as StoredSubmission | undefined;
  }

  /** The submissions of a sender, the newest first. */
  async submissionsOf(owner: string): Promise<StoredSubmission[]> {
    const own = (await this.#submissions()).filter((each) => each.owner === owner);
    return own.sort((a, b) => (b.at ?? '').localeCompare(a.at ?? ''));
  }

  async #submissions(): Promise<StoredSubmission[]> {
    return (await this.#level.values({ gte: 'submission!', lt: 'submission!\uFFFF' }).all()) as StoredSubmission[];
  }

  /** The submissions that were still looked at when the catalogue ended. */
  async unfinished(): Promise<StoredSubmission[]> {
    return (await this.#submissions()).filter(({ state }) => state === 'in-review');
  }

  /** Keeps a submission and, when it was accepted, the theme: both or none. */
  async keep(submission: StoredSubmission, theme?: StoredTheme): Promise<void> {
    const put = (key: string, value: unknown) => ({ type: 'put' as const, key, value });
    const themes = theme === undefined ? [] : [put(themeKey(theme.platform, theme.id), theme)];
    await this.#level.batch([put(`submission!${submission.submission}`, submission), ...themes], { sync: true });
  }
}

/** Names that differ in the case of letters alone are one: in some file systems they are. */
function themeKey(platform: string, id: string): string {
  return `theme!${platform}!${id.toLowerCase()}`;
}

function causeCode(error: unknown): unknown {
  const cause = error instanceof Error ? error.cause : undefined;
  return cause instanceof Error && 'code' in cause ? cause.code : undefined;
}
