import { followLinks } from '../../files/file-tree.ts';
import { isGlob, matchesGlob } from '../../files/glob.ts';
import type { Theme } from '../../theme/theme.ts';
import { fillShape } from '../../names/shape.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'write-markup': 'write its markup, or copy it from a kit',
});

/** Files that are there with nothing in them, where the host shows a blank page or refuses them. */
export const fileEmpty: Rule = {
  meta: {
    id: 'file/empty',
    severity: 'warning',
    isSeen: true,
    summary: 'A file is empty where that shows',
    why: 'The host takes an empty template as it is: visitors see a blank page, and nothing is logged.',
    messages: { blank: '{path} is empty: the host shows a blank page', refused: '{path} is empty, which the host refuses' },
    example: { platform: 'vereda', wrong: { 'main.html': '' }, right: {} },
  },
  *check({ theme }) {
    for (const rule of theme.platform.contract.files) {
      if (rule.empty === 'allowed') continue;
      const place = fillShape(rule.path, theme.names);
      const paths = isGlob(place) ? theme.tree.entries.map(({ path }) => path).filter((path) => matchesGlob(path, place)) : [place];
      for (const path of paths) {
        if (!isEmpty(theme, path)) continue;
        yield {
          message: rule.empty,
          args: { path },
          file: path,
          hint: advise('write-markup'),
          isRefusal: rule.empty === 'refused',
        };
      }
    }
  },
};

/** White space alone shows nothing either; a large file is surely not empty. */
function isEmpty(theme: Theme, path: string): boolean {
  const entry = followLinks(theme.tree, path);
  return entry?.kind === 'file' && entry.size <= 4096 && (theme.source(path)?.text ?? 'unreadable').trim() === '';
}
