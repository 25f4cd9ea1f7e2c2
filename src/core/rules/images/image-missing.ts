import { followLinks } from '../../files/file-tree.ts';
import { isNeeded } from '../../platform/platform.ts';
import { fillShape } from '../../names/shape.ts';
import { findInChain } from '../../theme/chain.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'add-picture': 'add a picture: {what}',
});

/** Pictures that the platform requires or recommends and the theme does not have. */
export const imageMissing: Rule = {
  meta: {
    id: 'image/missing',
    severity: 'warning',
    summary: 'A picture that the host shows is missing',
    why: 'People choose a theme by its picture; a host shows a gray box for one that has none.',
    messages: { missing: 'there is no {role} ({path}): {effect}' },
    example: { platform: 'vereda', wrong: { 'cover.png': null }, right: {} },
  },
  *check({ theme, chain }) {
    for (const image of theme.platform.contract.images) {
      const path = fillShape(image.path, theme.names);
      const isInherited = findInChain(chain, path) !== undefined;
      if (isInherited || followLinks(theme.tree, path) !== undefined || theme.tree.get(path)?.kind === 'link') continue;
      if (!image.recommended && !isNeeded(image.required, theme.isChild)) continue;
      const size = image.width === undefined || image.height === undefined ? '' : `, ${image.width} × ${image.height} pixels`;
      yield {
        message: 'missing',
        args: { role: image.role, path, effect: image.without ?? 'the host shows none' },
        file: path,
        hint: advise('add-picture', { what: `${image.formats.join(' or ')}${size}` }),
      };
    }
  },
};
