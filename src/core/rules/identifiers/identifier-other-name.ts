import { baseOf } from '../../files/file-tree.ts';
import { weigh } from '../../rename/names.ts';
import { NameFinder } from '../../rename/occurrences.ts';
import type { Rule } from '../rule.ts';

/** Files that carry the name of another theme on the shelf: what a copy by hand leaves behind. */
export const identifierOtherName: Rule = {
  meta: {
    id: 'identifier/other-name',
    severity: 'warning',
    summary: 'A file carries the name of another theme',
    why: 'A theme that was copied and renamed by hand keeps such names; the host, or the next developer, takes the file for the other theme’s.',
    messages: { other: '{path} carries the name of the theme “{other}”' },
    example: {
      platform: 'vereda',
      siblings: { lumbre: {} },
      wrong: { 'docs/lumbre-notes.txt': 'x\n' },
      right: { 'docs/cierzo-notes.txt': 'x\n' },
    },
  },
  *check({ theme, chain, shelves }) {
    const related = new Set(chain.themes.map((each) => each.names.id));
    const own = new NameFinder(theme.names.id);
    const others = shelves
      .list()
      .map((shelved) => shelved.names.id)
      // A name that holds ours, or a word that means anything, is no sign.
      .filter((id) => !related.has(id) && weigh(id) === 'distinctive' && !own.isIn(id) && !new NameFinder(id).isIn(theme.names.id))
      .map((id) => ({ id, finder: new NameFinder(id) }));
    for (const { path } of others.length === 0 ? [] : theme.tree.entries) {
      const name = baseOf(path);
      const other = others.find(({ finder }) => finder.find(name).some((found) => found.start === 0 && found.edges !== 'inside-word'));
      if (other !== undefined)
        yield { message: 'other', args: { path, other: other.id }, file: path, hint: 'rename it, with what refers to it' };
    }
  },
};
