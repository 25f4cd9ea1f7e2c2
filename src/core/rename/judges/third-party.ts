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
      { file: 'js/swipe-x.js', text: 'on("«albar»");', with: { files: { 'js/swipe.js': '/*! Swipe 4.1 | MIT license */' } } },
      { file: 'js/x.js', text: '/*! Huts 2.1.0 | MIT license */\nvar x = "«albar»";' },
    ],
  },
  (file) =>
    isInThirdPartyFolder(file.path) || file.matching.isInPackage(file.path) || file.matching.bundled.has(file.path) || isForeign(file),
);

/** Whether a file says of itself that it is another product. */
function isForeign(file: FileView): boolean {
  return isProductBanner(file.path, file.banner) && !isOwnBanner(file);
}

/** The words before the name of the theme in its own banner. */
const IS_OURS = /(?:\bpart of (?:the )?|@(?:package|subpackage)\s+)["“']?$|(?:©|\(c\)|\bcopyright\b)[^|;\n]*$/i;

/** A banner that names the theme, or who made it, is no other product's. */
function isOwnBanner({ banner, matching: { pairs, author, version } }: FileView): boolean {
  if (author !== '' && banner.includes(author)) return true;
  if (!pairs.some(({ finder }) => finder.isIn(banner))) return false;
  // A library may be called like the theme: then it has a version of its own, and an owner.
  const product = productOf(banner);
  if (product === undefined || product.version === version || !/©|\(c\)\s|\bcopyright\b/i.test(banner)) return true;
  // A part of the theme says so, or names its people as the owner; another product can say that the theme uses it.
  return pairs.some(({ finder }) => finder.find(banner).some(({ start }) => IS_OURS.test(banner.slice(0, start))));
}
