export { textConflict } from './text-conflict.ts';
export { textDeleteLine } from './text-delete-line.ts';
export { textEncoding } from './text-encoding.ts';
export { textLeftover } from './text-leftover.ts';
export { textLineEnds } from './text-line-ends.ts';
export { textMachinePath } from './text-machine-path.ts';
export { textPlaceholder } from './text-placeholder.ts';
export { textSecret } from './text-secret.ts';
