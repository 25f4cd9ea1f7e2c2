import { platformsIn, shippedPlatforms } from '../platform/load.ts';
import { choosePlatform } from '../theme/open.ts';
import { Shelves } from '../theme/shelf.ts';
import { checkKit, type KitVerdict } from './check-kit.ts';
import { usableKits } from './kits.ts';

/** A kit by where it is found. Plain data: it can be sent to another thread. */
export interface KitToCheck {
  /** Where relative paths start; absolute. */
  readonly currentFolder: string;
  /** The platform’s name, or its file. */
  readonly platform: string;
  /** The folder of platform files besides the shipped ones. */
  readonly platformFolder: string;
  /** The folders of themes that can keep kits of their own; absolute. */
  readonly parents: readonly string[];
  /** Where kits are looked for; absolute. */
  readonly shelves: readonly string[];
  readonly name: string;
  /** Its theme; absolute. */
  readonly location: string;
  /** The shelves that the user named, for parents and names; absolute. */
  readonly around: readonly string[];
}

/** What came of the themes that were made of a kit. */
export type KitTrials = Pick<KitVerdict, 'tried' | 'problems'>;

/** Checks a kit that is found again by its place. */
export function checkNamedKit({
  currentFolder,
  platform: wanted,
  platformFolder,
  parents,
  shelves,
  name,
  location,
  around,
}: KitToCheck): KitTrials {
  const platforms = () => [...shippedPlatforms(), ...platformsIn(platformFolder, platformFolder)];
  const platform = choosePlatform(wanted, { currentFolder, platforms });
  const kits = usableKits(platform, parents, new Shelves(platform, shelves, currentFolder));
  const kit = kits.find((each) => each.name === name && each.theme.location === location);
  if (kit === undefined) throw new Error(`the kit ${name} is not found again in ${location}`);
  const { tried, problems } = checkKit(kit, around);
  return { tried, problems };
}
