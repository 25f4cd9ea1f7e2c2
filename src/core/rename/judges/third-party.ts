import { isProductBanner, productOf } from '../../text/banner.ts';
import { isInThirdPartyFolder } from '../../text/file-kinds.ts';
import type { FileView } from '../mention.ts';
import { keepsFiles, type Judge } from './judge.ts';

export const thirdParty: Judge = keepsFiles(
  {
    code: 'third-party',
    group: 'third-party',
    sentence: 'third-party code',
    examples: [
      { file: 'vendor/x.js', text: '«albar»();' },
      { file: 'js/x.js', text: '/*! Huts 2.1.0 | MIT license */\nvar x = "«albar»";' },
    ],
  },
  (file) => isInThirdPartyFolder(file.path) || file.matching.isInPackage(file.path) || isForeign(file),
);

/** Whether a file says of itself that it is another product. */
function isForeign(file: FileView): boolean {
  return isProductBanner(file.path, file.banner) && !isOwnBanner(file);
}

/** A banner that names the theme, or who made it, is no other product's. */
function isOwnBanner({ banner, matching: { pairs, author, version } }: FileView): boolean {
  if (author !== '' && banner.includes(author)) return true;
  if (!pairs.some(({ finder }) => finder.isIn(banner))) return false;
  // A library may be called like the theme: then it has a version of its own, and an owner.
  const product = productOf(banner);
  const isCalledSo = product !== undefined && pairs.some(({ finder }) => finder.isIn(product.name));
  return !isCalledSo || product.version === version || !/©|\(c\)\s|\bcopyright\b/i.test(banner);
}
