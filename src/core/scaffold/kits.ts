import { join } from 'node:path';
import { z } from 'zod';
import { readConfiguration } from '../configuration/read-configuration.ts';
import { ConfigurationError, UsageError } from '../errors.ts';
import { DiskTree } from '../files/disk-tree.ts';
import { folderOf } from '../files/file-tree.ts';
import { readConfigurationText } from '../platform/load.ts';
import type { Platform } from '../platform/platform.ts';
import { nearest } from '../text/nearest.ts';
import { keyPath } from '../theme/documents.ts';
import { placeOfFolder } from '../theme/shelf.ts';
import { Theme } from '../theme/theme.ts';

const KitSchema = z.strictObject({
  pionero: z.literal('kit/1'),
  name: z.string().describe('What --kit calls it'),
  title: z.string(),
  about: z.string().describe('What it is for, in one sentence'),
  theme: z.string().describe('The folder of the working theme beside this file'),
  for: z.enum(['standalone', 'child']).default('standalone'),
  ask: z.array(z.string()).default([]).describe('Facts that `new` asks for on a terminal'),
  set: z.record(z.string(), z.string()).default({}).describe('Facts that a new theme starts with'),
});

/** A working theme that is meant to be cloned. */
export interface Kit {
  readonly name: string;
  readonly title: string;
  readonly about: string;
  readonly isChild: boolean;
  readonly asks: readonly string[];
  readonly starts: Readonly<Record<string, string>>;
  readonly theme: Theme;
}

/** The kits that come with a platform file (`kits/NAME/kit.yaml` beside it), then those that a parent keeps itself. */
export function listKits(platform: Platform, parentFolder?: string): Kit[] {
  const own = platform.contract.kits?.folder;
  const shipped = kitsIn(join(platform.folder, 'kits'), platform);
  return parentFolder === undefined || own === undefined ? shipped : [...shipped, ...kitsIn(join(parentFolder, own), platform)];
}

function kitsIn(root: string, platform: Platform): Kit[] {
  const tree = new DiskTree(root);
  const notForUse = platform.contract.kits?.['not-for-use'];
  return tree.entries
    .filter((entry) => entry.kind === 'file' && /^[^/]+\/kit\.ya?ml$/.test(entry.path))
    .map((entry) => openKit(tree, root, entry.path, platform))
    .filter(
      (kit) => notForUse === undefined || kit.theme.facts.every((fact) => keyPath(fact.field)[0] !== notForUse || fact.value !== 'true'),
    );
}

function openKit(tree: DiskTree, root: string, path: string, platform: Platform): Kit {
  const shownAs = join(root, path);
  const contract = readConfiguration(readConfigurationText(tree, path, shownAs), KitSchema, 'kit file');
  if (tree.get(`${folderOf(path)}/${contract.theme}`)?.kind !== 'folder') {
    throw new ConfigurationError({ what: `${shownAs} names the theme “${contract.theme}”, which is not beside it` });
  }
  const folder = join(root, folderOf(path), contract.theme);
  const theme = new Theme(platform, new DiskTree(folder), placeOfFolder(platform, folder).names, folder);
  const { name, title, about } = contract;
  return { name, title, about, isChild: contract.for === 'child', asks: contract.ask, starts: contract.set, theme };
}

/** The kit of a name; without one, the first that fits. @throws UsageError when there is none */
export function chooseKit(platform: Platform, wanted: string | undefined, isChild: boolean, parentFolder?: string): Kit {
  const kits = listKits(platform, parentFolder);
  const kit = wanted === undefined ? kits.find((each) => each.isChild === isChild) : kits.find((each) => each.name === wanted);
  if (kit === undefined) {
    const names = kits.map((each) => each.name);
    const near = wanted === undefined ? undefined : nearest(wanted, names);
    throw new UsageError({
      what:
        wanted === undefined
          ? `${platform.contract.title} has no kit for ${isChild ? 'a child' : 'a theme without a parent'}`
          : `${platform.contract.title} has no kit “${wanted}”`,
      hint: `${near === undefined ? '' : `did you mean “${near}”? `}known: ${names.join(', ')}`,
    });
  }
  if (kit.isChild !== isChild) {
    throw new UsageError({
      what: `the kit “${kit.name}” makes ${kit.isChild ? 'a child: it needs a parent' : 'a theme without a parent'}`,
      hint: kit.isChild ? 'name the parent with --parent' : 'leave --parent out, or take a kit for children',
    });
  }
  return kit;
}
