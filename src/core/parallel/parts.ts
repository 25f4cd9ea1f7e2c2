/** What reading a file weighs: opening it costs about as much as reading some thousand bytes. @param bytes its size */
export const weightOfFile = (bytes = 0): number => 4000 + bytes;

/**
 * A list cut into parts, in its order, that weigh about the same. A part may be empty.
 * @param count how many parts
 * @param weightOf above 0
 */
export function partsOf<T>(list: readonly T[], count: number, weightOf: (item: T) => number): T[][] {
  const parts: T[][] = Array.from({ length: count }, () => []);
  const whole = list.reduce((sum, item) => sum + weightOf(item), 0);
  let sum = 0;
  for (const item of list) {
    parts[Math.floor((sum * count) / whole)]?.push(item);
    sum += weightOf(item);
  }
  return parts;
}
