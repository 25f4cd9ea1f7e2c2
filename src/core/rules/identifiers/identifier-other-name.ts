import { matchesAny } from '../../files/glob.ts';
import { baseOf } from '../../files/file-tree.ts';
import { NameFinder } from '../../names/name-finder.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';
import { weigh } from '../../names/weight.ts';
import type { Theme } from '../../theme/theme.ts';
import type { Shelves } from '../../theme/shelf.ts';
import { fillShape, shapePattern } from '../../names/shape.ts';
import { namedPaths } from '../../platform/platform.ts';
import { isThirdPartyFile } from '../../contents/third-party.ts';

/** Files that carry the name of another theme on the shelf: what a copy by hand leaves behind. */
export const identifierOtherName: Rule = {
  meta: {
    id: 'identifier/other-name',
    severity: 'warning',
    isSign: true,
    isOfLeftNames: true,
    summary: 'A file carries the name of another theme',
    why: 'A theme that was copied and renamed by hand keeps such names; the host, or the next developer, takes the file for the other theme’s.',
    messages: { other: '{path} carries the name of the theme “{other}”' },
    example: {
      platform: 'vereda',
      siblings: { lumbre: { 'docs/lumbre-notes.txt': 'x\n' } },
      wrong: { 'docs/lumbre-notes.txt': 'x\n' },
      right: { 'docs/cierzo-notes.txt': 'x\n' },
    },
  },
  *check({ theme, chain, shelves }) {
    const related = new Set(chain.themes.map((each) => each.names.id));
    // What programs ask for by its name carries no theme's.
    const hosts = theme.platform.contract['host-files'];
    const named = new Set(namedPaths(theme.platform).map((path) => fillShape(path, theme.names)));
    const files = theme.tree.entries.flatMap(({ path, kind }) =>
      named.has(path) || (kind !== 'folder' && matchesAny(path, hosts)) ? [] : [{ path, letters: lettersOf(baseOf(path)) }],
    );
    const own = new NameFinder(theme.names.id);
    const carried = shelves
      .list()
      .map(({ names: { id } }) => ({ id, letters: lettersOf(id) }))
      // Quick to tell, and true of next to none: what follows takes too long for every pair of themes on a large shelf.
      .filter(({ letters }) => files.some((file) => file.letters.startsWith(letters)))
      // A name that holds ours, or a word that means anything, is not a sign.
      .filter(({ id }) => !related.has(id) && weigh(id) === 'distinctive' && !own.isIn(id) && !new NameFinder(id).isIn(theme.names.id))
      .map((other) => ({ ...other, finder: new NameFinder(other.id) }));
    if (carried.length === 0) return;
    for (const { path, letters } of files) {
      const name = baseOf(path);
      const other = carried.find(
        (each) =>
          letters.startsWith(each.letters) && each.finder.find(name).some((found) => found.start === 0 && found.edges !== 'inside-word'),
      );
      if (other !== undefined && belongsTo(other.id, path, theme, shelves) && !isThirdPartyFile(theme, path))
        yield { message: 'other', args: { path, other: other.id }, file: path, carries: other.id, hint: advise('rename-with-references') };
    }
  },
};

/**
 * Whether a file that carries another theme's name is that theme's: it has a file in the same place, or the file holds names
 * as the platform wants them in that theme's code. A theme may be called like a library, or like what a picture shows.
 */
function belongsTo(id: string, path: string, theme: Theme, shelves: Shelves): boolean {
  const shelved = shelves.find(id);
  const entry = theme.tree.get(path);
  if (shelved === undefined || entry === undefined) return false;
  if (entry.kind === shelves.open(shelved).tree.get(path)?.kind) return true;
  const text = entry.kind === 'file' ? theme.source(path)?.text : undefined;
  const shapes = theme.platform.contract.identifiers.flatMap(({ shape }) => shape).filter((shape) => shape.includes('{id'));
  return text !== undefined && shapes.some((shape) => shapePattern(shape, shelved.names, '').test(text));
}

/** A name without case and separators, in which all its spellings are alike. */
function lettersOf(name: string): string {
  return name
    .normalize('NFC')
    .toLowerCase()
    .replaceAll(/[-_. ]/g, '');
}
