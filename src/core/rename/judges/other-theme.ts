import type { Mention } from '../mention.ts';
import type { ReasonCode } from '../reason.ts';
import { KEPT, type Judge, type Verdict } from './judge.ts';

export const otherTheme: Judge = {
  code: 'other-theme',
  sentence: 'another theme’s name, “{about}”',
  together: 'names of other themes',
  examples: [{ file: 'a.md', text: 'See «albar»-noche.', with: { others: ['albar-noche'] } }],
  judge: (mention) => nameOf(mention, 'other-theme') ?? (isOfParent(mention) ? { ...KEPT, about: mention.pair.from } : undefined),
};

function nameOf(mention: Mention, code: ReasonCode): Verdict | undefined {
  const stretch = mention.file.others.find((each) => each.reason.code === code && mention.isIn(each));
  return stretch === undefined ? undefined : { ...KEPT, reason: stretch.reason };
}

/** `albar/partials/nav.html`, where a parent of that name has the file and the theme has not. */
function isOfParent(mention: Mention): boolean {
  const { parentFiles, files } = mention.matching;
  if (mention.pair.sort !== 'id' || parentFiles.size === 0 || mention.after(1) !== '/') return false;
  const rest = /^[\w./@-]+/.exec(mention.after(300).slice(1))?.[0].replace(/[/.]$/, '') ?? '';
  return parentFiles.has(rest) && !files.has(rest);
}
