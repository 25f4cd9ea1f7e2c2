import { checkNamedKit, type KitToCheck, type KitTrials } from './named-kit.ts';

/** A thread’s part in a check of many kits: see {@link checkNamedKit}. */
export function check(kit: KitToCheck): KitTrials {
  return checkNamedKit(kit);
}
