import { dirname, join } from 'node:path';
import { isSeq, parseDocument, stringify, YAMLSeq } from 'yaml';
import type { Operation } from '../changes/plan.ts';
import { CONFIGURATION_FILE, findConfiguration, parseConfiguration, type Configuration } from '../configuration/configuration.ts';
import type { FileTree } from '../files/file-tree.ts';
import { isBelow, pathFrom } from '../files/paths.ts';
import { readContent } from '../files/memory-tree.ts';
import type { Platform } from '../platform/platform.ts';
import { placeOfFolder } from '../theme/place.ts';
import type { Shelves } from '../theme/shelf.ts';

/** The notes of a new theme in its `pionero.yaml`, so that later commands find them unasked. */
export interface Note {
  readonly platform: string;
  /** Shelves besides its own, from the theme's folder. */
  readonly shelves: readonly string[];
}

/** A theme notes its platform where only a path names it, and the shelf of its parent where that is another one. */
export function noteFor(
  { parent, shelves, platform }: { readonly parent?: string | undefined; readonly shelves: Shelves; readonly platform: Platform },
  folder: string,
): Note | undefined {
  const shelved = parent === undefined ? undefined : shelves.find(parent);
  const shelf =
    shelved === undefined
      ? undefined
      : shelves.folders.filter((each) => isBelow(shelved.folder, each)).sort((a, b) => b.length - a.length)[0];
  const isElsewhere = shelf !== undefined && shelf !== placeOfFolder(platform, folder).shelf;
  const isKnown = platform.path === undefined || findConfiguration(dirname(folder)).platform === platform.path;
  if (!isElsewhere && isKnown) return undefined;
  return {
    platform: platform.path === undefined ? platform.contract.name : pathFrom(folder, platform.path),
    shelves: isElsewhere ? [pathFrom(folder, shelf)] : [],
  };
}

const HEAD = '# Where Pionero finds what this theme builds on. Not part of the theme: it is left out of packages.\n';

/** Puts a note into the plan: into the configuration that the kit brings, where it brings one. */
export function withNote(operations: readonly Operation[], note: Note | undefined): readonly Operation[] {
  if (note === undefined) return operations;
  const own = operations.find(({ path }) => path === CONFIGURATION_FILE);
  if (own?.op !== 'create')
    return [...operations, configurationFile(HEAD + stringify(note.shelves.length > 0 ? note : { platform: note.platform }))];
  const document = parseDocument(readContent(own.content).toString('utf8'));
  document.set('platform', note.platform);
  const known = document.get('shelves');
  const listed = isSeq(known) ? known : new YAMLSeq();
  for (const shelf of note.shelves) listed.add(shelf);
  if (note.shelves.length > 0) document.set('shelves', listed);
  return [...operations.filter((operation) => operation !== own), configurationFile(document.toString({ lineWidth: 0 }))];
}

function configurationFile(text: string): Operation {
  const bytes = Buffer.from(text);
  return { op: 'create', path: CONFIGURATION_FILE, content: { bytes }, size: bytes.length, mode: 0o644 };
}

/** What holds for a theme that is not on disk yet: what it brings itself, else what its place says. */
export function configurationOf(tree: FileTree, folder: string): Configuration {
  const own = tree.get(CONFIGURATION_FILE)?.kind === 'file' ? tree.read(CONFIGURATION_FILE) : undefined;
  return own === undefined ? findConfiguration(dirname(folder)) : parseConfiguration(join(folder, CONFIGURATION_FILE), own);
}
