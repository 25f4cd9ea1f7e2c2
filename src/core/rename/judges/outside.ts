import { isInFolder, resolveInTree } from '../../files/file-tree.ts';
import type { Mention } from '../mention.ts';
import { keeps, type Judge } from './judge.ts';

/** A path that leads out of the theme, and not back into it. */
export const outside: Judge = keeps(
  {
    code: 'outside',
    group: 'theirs',
    sentence: 'a path that leads out of the theme',
    examples: [
      { file: 'docs/a.md', text: 'Lies in ../../uploads/«albar».png.' },
      { file: 'a.conf', text: 'Icons=/usr/share/icons/«albar»' },
    ],
  },
  isOutside,
);

/** Folders of a system, which no theme is in but where its host has them. */
const SYSTEM = /^(?:\/(?:usr|etc|opt|var|home|srv|mnt|media|tmp|root|Users|Library|Applications|Volumes)\/|[A-Za-z]:[\\/])/;

function isOutside(mention: Mention): boolean {
  const { home } = mention.matching;
  const { from: id, sort } = mention.pair;
  if (sort === 'title') return false;
  const { text: path } = mention.stretch(/[\w.@/~+:\\-]/);
  if (home !== undefined && path.includes(home)) return false;
  if (SYSTEM.test(path)) return true;
  const up = /^(?:\.\.\/)+/.exec(path)?.[0];
  if (up === undefined || resolveInTree(mention.file.folder, path) !== undefined) return false;
  const rest = path.slice(up.length);
  return rest !== id && !isInFolder(rest, id);
}
