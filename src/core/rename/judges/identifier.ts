import type { Mention } from '../mention.ts';
import { changes, type Judge } from './judge.ts';

export const identifier: Judge = changes(
  {
    code: 'identifier',
    sentence: 'an identifier, or signs around it show that it is a name',
    examples: [
      { file: 'a.php', text: '<?php function «albar»_setup() {}', becomes: '<?php function cumbre_sur_setup() {}' },
      { file: 'a.css', text: '.«oak»-nav { }', becomes: '.lumbre-nav { }', names: 'oak → lumbre' },
    ],
  },
  'identifier',
  (mention) => {
    if (mention.isCommon || !(mention.edges === 'joined' || mention.zoneKind === 'code' || mention.isEntry || isName(mention)))
      return false;
    return mention.pair.weight !== 'short' || mention.edges !== 'joined' || leadsItsIdentifier(mention);
  },
);

/** Whether signs around a mention show that it is a name and no word of a sentence: quotes, slashes, selectors. */
function isName(mention: Mention): boolean {
  const before = mention.before(1);
  const after = mention.after(1);
  return (
    mention.isQuoted ||
    /[/\\#$@=]/.test(before) ||
    /[/\\=]/.test(after) ||
    (before === '.' && !/[\s.]/.test(mention.text.charAt(mention.start - 2) || 'x')) ||
    (after === ':' && /\S/.test(mention.text.charAt(mention.end + 1)))
  );
}

/** oak_setup and .oak-nav begin with the name; para-sol does not. */
function leadsItsIdentifier({ identifierHead, found }: Mention): boolean {
  return (
    /^[-_]*$/.test(identifierHead) ||
    /(?:^|[-_])theme[-_]$/i.test(identifierHead) ||
    /^[A-Z]/.test(found) ||
    identifierHead.endsWith('data-')
  );
}
