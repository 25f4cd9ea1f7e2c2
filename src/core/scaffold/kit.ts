import type { Theme } from '../theme/theme.ts';
import type { KitName } from '../contents/placeholders.ts';
import type { KitPart } from './parts.ts';

/** A working theme that is meant to be cloned. */
export interface Kit {
  readonly name: string;
  readonly title: string;
  readonly about: string;
  readonly isChild: boolean;
  readonly parts: readonly KitPart[];
  /** Facts that a new theme must not have, besides those that the platform marks. */
  readonly markers: readonly string[];
  readonly asks: readonly string[];
  readonly starts: Readonly<Record<string, string>>;
  readonly theme: Theme;
  /** Where it comes from, for people. */
  readonly from: string;
  /** Of a kit in an archive: what was not unpacked because it belongs to tools. */
  readonly leftBehind?: readonly string[] | undefined;
  /** Replacements for the new theme's names in it, besides its theme's own. */
  readonly names: readonly KitName[];
  /** Whether it is a folder that nobody made for Pionero: without a kit file. */
  readonly isPlain: boolean;
  /** Why it is not offered. */
  readonly notForUse?: string | undefined;
  /** The folder of the parent that keeps it. */
  readonly parentFolder?: string | undefined;
}
