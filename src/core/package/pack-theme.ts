import { createHash } from 'node:crypto';
import { UsageError } from '../errors.ts';
import type { Theme } from '../theme/theme.ts';
import { ARCHIVE_FORMATS, type ArchiveFormat } from '../archives/archive-format.ts';
import { ZIP_TASKS, type DeflatedAhead } from '../archives/deflated-ahead.ts';
import { holds, type Checksums, type MadeOf } from '../archives/comparison.ts';
import { weightOfFile } from '../parallel/parts.ts';
import { choosePackageContents, type PackageContents } from '../contents/package-contents.ts';
import { packageForm, type Held } from './package-form.ts';
import type { Sink } from '../changes/disk-writer.ts';

/** The form of a theme's package. */
export interface PackagePlan extends PackageContents {
  readonly theme: Theme;
  readonly format: ArchiveFormat;
  /** The archive's file name. */
  readonly name: string;
  /** The folder that the theme lies in, in the archive. */
  readonly top: string;
  /** All that the archive holds. */
  readonly held: Held;
  /** The time of all entries, in milliseconds since 1970. */
  readonly time: number;
}

/** Headers and small files are written together: the system is asked once, not three times a file. */
const WRITTEN_AT_ONCE = 1 << 19;

/** The files that were written. */
export interface PackedTheme {
  /** Of the archive. */
  readonly bytes: number;
  /** Of the archive, in hexadecimal. */
  readonly sha256: string;
  /** Of what was packed. */
  readonly checksums: Checksums;
}

/**
 * Decides what a theme's package holds. Writes nothing.
 * @param wanted the archive's format; the platform's first one when left out
 * @param time of all entries, in milliseconds since 1970; the same for every archive when left out
 * @throws UsageError when the platform does not take that format
 */
export function planPackage(theme: Theme, excluded: readonly string[] = [], wanted?: string, time = 0): PackagePlan {
  const format = chooseFormat(theme, wanted);
  const contents = choosePackageContents(theme, excluded);
  return { ...contents, ...packageForm(theme, contents.entries, format), theme, format, time };
}

/** A package that workers have begun; whoever begins it ends it, when it is written or not wanted any more. */
export type BegunPackage = DeflatedAhead;

/**
 * Begins to pack on workers, for {@link writePackage}; undefined where none is worth its start.
 * @param jobs threads that work at the same time; as many as the machine has when left out
 */
export function beginPackage({ held, format }: PackagePlan, jobs?: number): BegunPackage | undefined {
  return format.begin?.(held.tree, held.entries, jobs);
}

/**
 * Packs a theme, part by part: memory does not grow with it.
 * @param begun what was begun of this package; the bytes are the same without
 * @throws UnreadableFileError when a file of the theme cannot be read, or changes while it is packed
 */
export async function writePackage({ held, format, time }: PackagePlan, sink: Sink, begun?: BegunPackage): Promise<PackedTheme> {
  const hash = createHash('sha256');
  let bytes = 0;
  let waiting: Buffer[] = [];
  let waitingBytes = 0;
  const flush = async (): Promise<void> => {
    const part = Buffer.concat(waiting);
    waiting = [];
    waitingBytes = 0;
    hash.update(part);
    bytes += part.length;
    await sink(part);
  };
  const take = async (part: Buffer): Promise<void> => {
    waiting.push(part);
    waitingBytes += part.length;
    if (waitingBytes >= WRITTEN_AT_ONCE) await flush();
  };
  const checksums = await format.write(held.tree, held.entries, held.top, take, time, begun);
  await flush();
  return { bytes, sha256: hash.digest('hex'), checksums };
}

/**
 * Whether an archive, read back from the disk, gives every entry of the package with the bytes that were packed, and no other.
 * @param begun reads a part of it, where there is one
 */
export async function isPackageAsPlanned(
  path: string,
  { held, format }: PackagePlan,
  { checksums }: Pick<PackedTheme, 'checksums'>,
  begun?: BegunPackage,
): Promise<boolean> {
  const { entries, top } = held;
  const whole: MadeOf = { entries, top, checksums, from: 0, to: entries.length };
  const here = async (of: MadeOf): Promise<boolean[]> => [await holds(path, async (file, taker) => format.read(file, taker), of)];
  if (begun === undefined) return (await here(whole)).every(Boolean);
  const part = (places: readonly number[]): MadeOf => ({ ...whole, from: places[0] ?? 0, to: (places.at(-1) ?? -1) + 1 });
  const there = async (of: MadeOf): Promise<boolean[]> =>
    begun.workers.run(ZIP_TASKS, 'zipHolds', { path, of }).then(
      (isSame) => [isSame],
      async () => here(of),
    );
  const answers = await begun.workers.share(
    entries.map((_, place) => place),
    (place) => weightOfFile(entries[place]?.size),
    async (places) => there(part(places)),
    async (places) => here(part(places)),
  );
  return answers.every(Boolean);
}

/** The files of a package that are not any more as they were when the theme was opened: what was checked may not be what was packed. */
export function changedMeanwhile({ theme, entries }: PackagePlan): string[] {
  const packed = new Set(entries.flatMap(({ kind, path }) => (kind === 'folder' ? [] : [path])));
  return (theme.tree.disk?.changes() ?? []).filter((path) => packed.has(path));
}

function chooseFormat(theme: Theme, wanted: string | undefined): ArchiveFormat {
  const { formats } = theme.platform.contract.package;
  const format = ARCHIVE_FORMATS.find((each) => each.name === (wanted ?? formats[0]));
  if (format !== undefined && formats.includes(format.name)) return format;
  throw new UsageError({
    what: `${theme.platform.contract.title} does not take ${wanted} packages`,
    hint: `it takes ${formats.join(', ')}`,
  });
}
