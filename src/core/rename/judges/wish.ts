import { KEPT, type Judge } from './judge.ts';

export const wish: Judge = {
  code: 'wish',
  sentence: 'kept as wished: “{about}”',
  together: 'kept as wished',
  examples: [{ file: 'a.md', text: 'The «Albar» trail.', with: { keep: ['Albar trail'] } }],
  judge: (mention) => {
    const stretch = mention.file.wishes.find((each) => mention.isIn(each));
    return stretch === undefined ? undefined : { ...KEPT, reason: stretch.reason };
  },
};
