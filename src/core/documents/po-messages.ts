import { po, type GetTextTranslations } from 'gettext-parser';

/** No language has more plural forms than six; the parser takes a time that grows with the square of their number. */
const MAX_FORMS = 100;

/**
 * All messages of a gettext catalogue.
 * @throws SyntaxError when it cannot be read whole
 */
export function parsePo(catalogue: string | Buffer): GetTextTranslations {
  const text = typeof catalogue === 'string' ? catalogue : catalogue.toString('latin1');
  let forms = 0;
  for (const [keyword] of text.matchAll(/msgid|msgstr/gi)) {
    forms = keyword.toLowerCase() === 'msgid' ? 0 : forms + 1;
    if (forms > MAX_FORMS) throw new SyntaxError('a message has more translations than any language has plural forms');
  }
  return po.parse(catalogue);
}
