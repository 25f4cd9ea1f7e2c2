import { KEPT, type Judge } from './judge.ts';

export const contract: Judge = {
  code: 'contract',
  sentence: 'a key or a choice that the platform fixes',
  examples: [{ file: 'theme.conf', text: '[theme]\n«stylesheet» = a.css\n', names: 'stylesheet → lumbre', with: { platform: 'sphinx' } }],
  judge: (mention) => {
    const stretch = mention.file.fixed.find((each) => each.reason.code !== 'other-value' && mention.isIn(each));
    return stretch === undefined ? undefined : { ...KEPT, reason: stretch.reason };
  },
};
