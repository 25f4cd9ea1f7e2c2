/**
 * Does a list of work, several pieces at a time, and gives what comes of them in the order of the list.
 * @param ahead so many pieces are begun before the first of them is taken: memory holds no more results
 */
export async function* inOrder<T, R>(list: Iterable<T>, ahead: number, work: (item: T) => Promise<R>): AsyncGenerator<R> {
  const begun: Promise<R>[] = [];
  for (const item of list) {
    const piece = work(item);
    // Whoever takes the results hears of a failure in its turn.
    piece.catch(() => undefined);
    begun.push(piece);
    const first = begun.length < ahead ? undefined : begun.shift();
    if (first !== undefined) yield await first;
  }
  for (const piece of begun) yield await piece;
}

/** A list cut into pieces of so many, the last one perhaps of fewer. */
export function* piecesOf<T>(list: readonly T[], size: number): Generator<readonly T[]> {
  for (let at = 0; at < list.length; at += size) yield list.slice(at, at + size);
}
