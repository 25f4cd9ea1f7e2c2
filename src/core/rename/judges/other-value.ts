import { keeps, type Judge } from './judge.ts';

/** The value of a field that names something of another program. */
export const otherValue: Judge = keeps(
  {
    code: 'other-value',
    group: 'theirs',
    sentence: 'a value that names something of another program',
    examples: [
      {
        file: 'theme.conf',
        text: '[theme]\ninherit = basic\npygments_style = «albar»\n',
        with: { platform: 'sphinx' },
      },
    ],
  },
  (mention) => mention.file.fixed.some((each) => each.reason.code === 'other-value' && mention.isIn(each)),
);
