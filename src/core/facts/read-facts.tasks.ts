import type { FoldersToOpen } from '../theme/folders-to-open.ts';
import { readFacts, type FactsOfFolder } from './stated-facts.ts';

/** A thread’s part in reading the facts of many themes: see {@link readFacts}. */
export async function read(input: FoldersToOpen): Promise<FactsOfFolder[]> {
  return readFacts(input);
}
