import type { Mention } from '../mention.ts';
import type { ReasonCode } from '../reason.ts';
import { KEPT, type Judge, type Verdict } from './judge.ts';

export const person: Judge = {
  code: 'person',
  sentence: 'the name of a person or an organization, “{about}”',
  together: 'names of persons and organizations',
  examples: [
    {
      file: 'a.md',
      text: 'Ask the «Albar» Hut League.',
      with: { files: { 'sheet.css': '/*---\ntitle: Albar\nauthor: Albar Hut League\n---*/\n' } },
    },
  ],
  judge: (mention) => nameOf(mention, 'person'),
};

function nameOf(mention: Mention, code: ReasonCode): Verdict | undefined {
  const stretch = mention.file.others.find((each) => each.reason.code === code && mention.isIn(each));
  return stretch === undefined ? undefined : { ...KEPT, reason: stretch.reason };
}
