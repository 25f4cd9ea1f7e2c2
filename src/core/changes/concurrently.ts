/**
 * Does some work for each item, several at a time. After a failure nothing new is begun, and what is under way comes to
 * its end before the failure is passed on: whoever takes back what was done then finds nothing that still changes.
 */
export async function forEachConcurrently<T>(items: readonly T[], limit: number, work: (item: T) => Promise<void>): Promise<void> {
  let next = 0;
  const failures: unknown[] = [];
  const takeTurns = async (): Promise<void> => {
    while (next < items.length && failures.length === 0) {
      const item = items[next++];
      if (item !== undefined) await work(item).catch((error: unknown) => failures.push(error));
    }
  };
  await Promise.all(Array.from({ length: Math.min(limit, items.length) }, takeTurns));
  if (failures.length > 0) throw failures[0];
}
