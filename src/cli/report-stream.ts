import type { Finding } from '../core/rules/engine/check.ts';
import type { CheckedFolder } from '../core/rules/engine/check-folders.ts';
import type { Shard } from './shards.ts';

/** A report that is written as it grows: a killed run leaves what it had written, and no run keeps more than it must. */
export interface ReportStream {
  readonly head: string;
  /** @param count how many themes of this run came before; undefined for an entry about a file around themes */
  one(checked: CheckedFolder, count: number | undefined): string;
  /** What follows all themes, in pieces. */
  tail(): Iterable<string>;
}

/** A part of a check, and the positions of its themes among all. */
export interface ShardPositions extends Shard {
  readonly positions: readonly number[];
}

/** What forms of reports have to know besides the themes. */
export interface StreamSettings {
  /** Whether the exit status is what it is because of a finding. */
  readonly decides: (finding: Finding) => boolean;
  /** When only a part of the targets was checked: which. */
  readonly shard?: ShardPositions | undefined;
  /** Folders beside the themes of a shelf that are not themes, absolute: they were not checked. */
  readonly others?: readonly string[] | undefined;
  /** The file of known findings, as people would type it. */
  readonly baseline?: string | undefined;
  /** The release that was asked for. */
  readonly release?: string | undefined;
}
