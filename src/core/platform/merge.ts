/** What tells the entries of a list apart when one platform file extends another. */
const IDENTITIES = ['path', 'key', 'role', 'text', 'declared'] as const;

/** Lays one platform file's contents over another's: maps are merged; lists of described things by what they describe. */
export function mergeContracts(below: unknown, above: unknown): unknown {
  if (Array.isArray(below) && Array.isArray(above)) return mergeLists(below, above);
  if (!isMap(below) || !isMap(above)) return above;
  const keys = new Set([...Object.keys(below), ...Object.keys(above)]);
  return Object.fromEntries(
    [...keys].map((key) => [key, !(key in above) ? below[key] : key in below ? mergeContracts(below[key], above[key]) : above[key]]),
  );
}

/** Lists of plain values are replaced; of maps, an entry of the same identity is merged and a new one comes last. */
function mergeLists(below: readonly unknown[], above: readonly unknown[]): unknown[] {
  const identity = IDENTITIES.find((key) => [...below, ...above].every((entry) => isMap(entry) && key in entry));
  if (identity === undefined) return [...above];
  const sameAs =
    (entry: unknown) =>
    (other: unknown): boolean =>
      isMap(entry) && isMap(other) && JSON.stringify(entry[identity]) === JSON.stringify(other[identity]);
  const merged = below.map((entry) => {
    const own = above.find(sameAs(entry));
    return own === undefined ? entry : mergeContracts(entry, own);
  });
  return [...merged, ...above.filter((entry) => !below.some(sameAs(entry)))];
}

function isMap(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
