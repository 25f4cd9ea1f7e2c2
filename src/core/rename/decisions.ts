import type { Position } from '../text/source-document.ts';

/** The user's decisions on single places, by {@link placeKey}: the text that is to stand there; null: it stays. */
export type Decisions = ReadonlyMap<string, string | null>;

/** Names a place of the old tree in decisions and plan files. */
export function placeKey(file: string, { line, column }: Position): string {
  return `${file}:${line}:${column}`;
}

/** The decisions on one file, by place in it. */
export function decisionsOn(path: string, decisions: Decisions): Decisions {
  if (decisions.size === 0) return decisions;
  const own = [...decisions].filter(([key]) => key.startsWith(`${path}:`));
  return new Map(own.map(([key, decision]) => [key.slice(path.length), decision]));
}
