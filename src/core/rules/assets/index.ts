export { assetAbsolute } from './asset-absolute.ts';
export { assetCopy } from './asset-copy.ts';
export { assetImport } from './asset-import.ts';
export { assetMainSheet } from './asset-main-sheet.ts';
export { assetMissing } from './asset-missing.ts';
export { assetRemote } from './asset-remote.ts';
export { assetShadows } from './asset-shadows.ts';
export { assetUnused } from './asset-unused.ts';
