/** Opening a file costs about as much as reading some thousand bytes of it. */
const OPENING_BYTES = 4000;

/** Two parts of a list of files, in its order, with about the same work to read each. @param bytesOf the size of a file */
export function halves<T>(files: readonly T[], bytesOf: (file: T) => number): [first: readonly T[], second: readonly T[]] {
  const weights = files.map((file) => OPENING_BYTES + bytesOf(file));
  const half = weights.reduce((sum, weight) => sum + weight, 0) / 2;
  let split = 0;
  for (let sum = 0; split < files.length && sum < half; split++) sum += weights[split] ?? 0;
  return [files.slice(0, split), files.slice(split)];
}
