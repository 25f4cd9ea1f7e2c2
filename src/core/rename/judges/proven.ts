import { changes, type Judge } from './judge.ts';

export const proven: Judge = changes(
  {
    code: 'proven',
    sentence: 'another place proves that the identifier is the theme’s',
    examples: [
      {
        file: 'a.js',
        text: 'function pageMenu() {}\n«page»Menu();',
        becomes: 'function lumbreMenu() {}\nlumbreMenu();',
        names: 'page → lumbre',
      },
    ],
  },
  'identifier',
  ({ matching, ownIdentifier }) => matching.isProven(ownIdentifier),
);
