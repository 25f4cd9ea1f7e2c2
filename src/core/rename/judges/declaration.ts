import { changes, type Judge } from './judge.ts';

/** `function core_setup(`, `class CoreSetup`, `define('CORE_VERSION'`: what the theme's own code declares is its own. */
export const declaration: Judge = changes(
  {
    code: 'declaration',
    sentence: 'declared by the theme’s own code',
    examples: [{ file: 'a.js', text: 'const «page»Menu = 1;', becomes: 'const lumbreMenu = 1;', names: 'page → lumbre' }],
  },
  'identifier',
  (mention) => {
    if (!mention.isCommon || !['code', 'string'].includes(mention.zoneKind)) return false;
    const start = mention.identifierStart;
    return /(?:\b(?:function|class|interface|trait|enum|const|let|var|namespace)\s+|\bdefine\(\s*["'])$/.test(
      mention.text.slice(Math.max(0, start - 24), start),
    );
  },
);
