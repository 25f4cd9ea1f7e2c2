import { setTimeout as pause } from 'node:timers/promises';
import { systemCode } from '../errors.ts';

/** Codes of the system while another program (an editor, a scanner, an indexer) has a file open, or a file is just going away. */
const HELD: Readonly<Partial<Record<NodeJS.Platform, readonly string[]>>> = { win32: ['EPERM', 'EACCES', 'EBUSY', 'ENOTEMPTY'] };
const HELD_ELSEWHERE = ['EBUSY'];

/** Longer than a scanner looks at a file; in milliseconds. */
const PAUSES = [10, 20, 50, 100, 200, 400, 800];

/**
 * Does one step on a disk, and tries it again for a moment when something is in use.
 * @throws what the last try threw
 */
export async function patiently<T>(step: () => Promise<T>, platform: NodeJS.Platform = process.platform): Promise<T> {
  const codes = HELD[platform] ?? HELD_ELSEWHERE;
  for (const milliseconds of PAUSES) {
    try {
      return await step();
    } catch (error) {
      if (!codes.includes(systemCode(error) ?? '')) throw error;
    }
    await pause(milliseconds);
  }
  return step();
}
