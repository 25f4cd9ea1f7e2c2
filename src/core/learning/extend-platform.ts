import { parseDocument } from 'yaml';
import { PioneroError, RefusedError } from '../errors.ts';
import { MemoryTree } from '../files/memory-tree.ts';
import { contractProblems } from '../platform/contract-problems.ts';
import { readPlatform } from '../platform/load.ts';
import type { Platform } from '../platform/platform.ts';
import { additionsOf, choiceAdditions, type Addition } from './additions.ts';
import { draftPlatform, type DraftRequest } from './draft.ts';
import { judgeThemes, type RefusedTheme } from './fit.ts';
import { measurePlatform, type LineSupport } from './support.ts';

/** A platform file with what further themes taught. */
export interface ExtendedPlatform {
  readonly text: string;
  readonly platform: Platform;
  /** Subjects of what was added, for people. */
  readonly added: readonly string[];
  readonly taken: readonly string[];
  /** Themes that it refuses still. */
  readonly refused: readonly RefusedTheme[];
  /** Lines of the file as it was that refuse themes: they stay as they are. */
  readonly refusing: readonly LineSupport[];
}

/**
 * Adds to a platform file what further themes teach: documents, fields, files, pages, tags, values, parents that it does not speak of.
 * No line that is there changes, but for lists that become longer. What would contradict the file, or refuse one of these themes that
 * it takes, is left out; nothing that is added is required.
 * @throws RefusedError when the file lies over another one, and as {@link draftPlatform}
 */
export function extendPlatform(given: Platform, request: Omit<DraftRequest, 'wishes' | 'file' | 'folder'>): ExtendedPlatform {
  const { source, folder } = given;
  if (parseDocument(source.text).has('extend'))
    throw new RefusedError({
      what: `${given.file} extends another platform file: part of its contents is in that file`,
      hint: 'name the file that it extends, or write the lines by hand',
    });
  const { themes, shelves } = request;
  const [manifest] = given.contract.documents;
  const draft = draftPlatform({
    ...request,
    wishes: { name: given.contract.name, manifest: manifest?.path },
    file: given.file,
    folder,
  });
  const before = measurePlatform(given, themes, shelves);
  const expected = new Set([...before.refused, ...draft.refused].map(({ id }) => id));
  const additions = [...additionsOf(draft.platform), ...choiceAdditions(given, themes)];
  const read = (text: string): Platform => readPlatform(MemoryTree.of({ [given.file]: text }), given.file, given.file, folder);
  let merged = merge(given, additions, read);
  const harmed = judgeThemes(merged.platform, themes, shelves).filter(({ id }) => !expected.has(id));
  if (harmed.length > 0) {
    const spared = themes.filter(({ id }) => harmed.some((each) => each.id === id));
    merged = merge(given, additions, read, (platform) => judgeThemes(platform, spared, shelves).length === 0);
  }
  const { lines, refused } = measurePlatform(merged.platform, themes, shelves);
  const isRefused = new Set(refused.map(({ id }) => id));
  const own = new Set(before.lines.map(({ what }) => what));
  return {
    text: merged.platform.source.text,
    ...merged,
    taken: themes.map(({ id }) => id).filter((id) => !isRefused.has(id)),
    refused,
    refusing: lines.filter(({ what, refuses }) => refuses.length > 0 && own.has(what)),
  };
}

/** Adds one after the other, each only where the file is right with it. */
function merge(
  given: Platform,
  additions: readonly Addition[],
  read: (text: string) => Platform,
  accept: (platform: Platform) => boolean = () => true,
): { platform: Platform; added: string[] } {
  let platform = given;
  const added: string[] = [];
  for (const { what, isKnown, add } of additions) {
    if (isKnown(platform.contract)) continue;
    const text = add(platform.source.text, platform.contract);
    const next = text === undefined ? undefined : readIfRight(text, read);
    if (next === undefined || !accept(next)) continue;
    platform = next;
    added.push(what);
  }
  return { platform, added };
}

function readIfRight(text: string, read: (text: string) => Platform): Platform | undefined {
  try {
    const platform = read(text);
    return contractProblems(platform).length === 0 ? platform : undefined;
  } catch (error) {
    if (error instanceof PioneroError) return undefined;
    throw error;
  }
}
