/** The forms in which findings are told to other programs, as the package’s `pionero/reports`. */
import type { CheckedFolder } from '../../core/rules/engine/check-folders.ts';
import { sarifLog } from './sarif.ts';

export { codeQuality } from './code-quality.ts';
export { checksJson } from './json.ts';
export { junitXml } from './junit.ts';

/** A log in the Static Analysis Results Interchange Format 2.1.0 (OASIS), as plain data. Places are relative to the current folder. */
export function sarif(checked: readonly CheckedFolder[], options: { readonly version: string; readonly currentFolder: string }): object {
  return sarifLog(checked, options);
}
