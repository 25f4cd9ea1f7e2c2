import type { Mention } from '../mention.ts';
import { changes, type Judge } from './judge.ts';

export const marked: Judge = changes(
  {
    code: 'marked',
    sentence: 'in quotes or brackets, the head of a dotted key, or a value of an attribute',
    examples: [{ file: 'a.html', text: '<b class="a «oak» b">', becomes: '<b class="a lumbre b">', names: 'oak → lumbre' }],
  },
  'identifier',
  (mention) => !mention.isDistinctive && !mention.isCommon && (isMarked(mention) || isInAttribute(mention)),
);

function isMarked(mention: Mention): boolean {
  const before = mention.before(24);
  const after = mention.after(16);
  return (
    mention.isQuoted ||
    (/["'`[]$/.test(before) && /^(?:[.:/][\p{L}{_]|[-_]+["'`])/u.test(after)) ||
    (/[:=]\s*$/.test(before) && /^["'`]/.test(after))
  );
}

/** A value of a tag's attribute, such as one of several classes. */
function isInAttribute(mention: Mention): boolean {
  return mention.zoneKind === 'markup' && /<[^<>]*=\s*(?:"[^"<>]*|'[^'<>]*)$/.test(mention.before(300));
}
