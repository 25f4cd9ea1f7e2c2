import { DiskTree } from '../core/files/disk-tree.ts';
import { compareText } from '../core/files/file-tree.ts';
import { kindOnDisk } from '../core/files/disk.ts';
import type { CheckTarget } from './check-targets.ts';

/** One part of several that a check is divided into. */
export interface Shard {
  /** From 1. */
  readonly part: number;
  readonly of: number;
}

/** Reads `2/4`; undefined when it is not a shard. */
export function parseShard(text: string): Shard | undefined {
  const match = /^([1-9]\d{0,3})\/([1-9]\d{0,3})$/.exec(text);
  const [part, of] = [Number(match?.[1]), Number(match?.[2])];
  return match !== null && part <= of ? { part, of } : undefined;
}

/** By variables of job arrays and of matrices of build servers: the number of a job, of its first one, and how many there are. */
const JOBS: readonly { readonly number: string; readonly count: string; readonly first?: string; readonly from: 0 | 1 }[] = [
  { number: 'SLURM_ARRAY_TASK_ID', count: 'SLURM_ARRAY_TASK_COUNT', first: 'SLURM_ARRAY_TASK_MIN', from: 0 },
  { number: 'CI_NODE_INDEX', count: 'CI_NODE_TOTAL', from: 1 },
  { number: 'SHARD_INDEX', count: 'SHARD_COUNT', from: 1 },
];

/** The part that the job around is to do; undefined when it is not one of several. */
export function shardOfJob(env: Readonly<Record<string, string | undefined>>): Shard | undefined {
  for (const { number, count, first, from } of JOBS) {
    const [at, of] = [env[number], env[count]];
    if (at === undefined || of === undefined) continue;
    return parseShard(`${Number(at) - Number(first === undefined ? from : (env[first] ?? from)) + 1}/${of}`);
  }
  return undefined;
}

/** With so many themes for each part their sums are about alike: then no machine has to look how large the themes of all others are. */
const MANY_A_PART = 200;

/**
 * The positions among the targets that belong to a part. Every machine divides alike: the largest themes are dealt out
 * first, each to the part that has least by then; of many, each part gets one in turn.
 */
export function positionsIn({ part, of }: Shard, targets: readonly CheckTarget[]): number[] {
  if (targets.length >= MANY_A_PART * of) return targets.flatMap((_target, position) => (position % of === part - 1 ? [position] : []));
  const loads = Array.from({ length: of }, () => 0);
  const parts = new Map<number, number>();
  const weighed = targets.map((target, position) => ({ position, path: target.path, bytes: bytesOf(target) }));
  weighed.sort((a, b) => b.bytes - a.bytes || compareText(a.path, b.path));
  for (const { position, bytes } of weighed) {
    const least = loads.indexOf(Math.min(...loads));
    loads[least] = (loads[least] ?? 0) + bytes;
    parts.set(position, least + 1);
  }
  return targets.flatMap((_target, position) => (parts.get(position) === part ? [position] : []));
}

/** A theme takes time for each of its files besides that for their bytes. */
const BYTES_A_FILE = 2000;

function bytesOf({ path }: CheckTarget): number {
  if (kindOnDisk(path) !== 'folder') return BYTES_A_FILE;
  return new DiskTree(path).entries.reduce((sum, { size }) => sum + size + BYTES_A_FILE, 0);
}
