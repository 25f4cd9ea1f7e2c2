import { followLinks, type FileTree } from '../../files/file-tree.ts';
import { isGlob, matchesGlob } from '../../files/glob.ts';
import { isInSpan, isNeeded, otherPlace } from '../../platform/platform.ts';
import type { Theme } from '../../theme/theme.ts';
import { needOf } from '../../theme/conditions.ts';
import { fillShape } from '../../names/shape.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Files that the platform requires and the theme does not have; and empty ones where that shows. */
export const fileMissing: Rule = {
  meta: {
    id: 'file/missing',
    severity: 'error',
    isSeen: true,
    summary: 'A file that the host needs is missing',
    why: 'Hosts call a theme broken when one of its required files is not there, mostly without naming the file.',
    messages: {
      missing: '{path} is missing: {effect}',
      case: '{path} is missing; “{near}” differs by case only, which counts on most servers',
    },
    example: { platform: 'vereda', wrong: { 'main.html': null }, right: {} },
  },
  *check({ theme, releases }) {
    for (const rule of theme.platform.contract.files) {
      if (!isNeeded(needOf(rule, theme.facts), theme.isChild) || !isInSpan(rule, releases)) continue;
      const path = fillShape(rule.path, theme.names);
      const places = [path, ...(rule['one-of'] ?? [])];
      if (places.some((place) => isThere(theme.tree, place, rule.kind))) continue;
      // A link that ends nowhere, or outside, has a finding of its own.
      if (places.some((place) => theme.tree.get(place)?.kind === 'link')) continue;
      const elsewhere = placesElsewhere(theme, path, releases);
      // A file that only has to move has a finding of its own.
      if (elsewhere.some(({ isOld }) => isOld)) continue;
      const copied = elsewhere[0]?.path;
      if (copied !== undefined) {
        const title = advise('copy', { from: copied, to: path });
        const step = { op: 'copy', from: copied, to: path } as const;
        const fix = { title, isSafe: true, file: path, edits: [], steps: [step] };
        yield {
          message: 'missing',
          args: { path, effect: rule.without ?? 'the host needs it' },
          file: path,
          hint: title,
          fix,
          isRefusal: true,
        };
        continue;
      }
      const near = theme.tree.entries.find((entry) => entry.path.toLowerCase() === path.toLowerCase())?.path;
      yield {
        message: near === undefined ? 'missing' : 'case',
        args: { path: places.join(' or '), near: near ?? '', effect: rule.without ?? 'the host needs it' },
        file: path,
        hint: near === undefined ? advise('add', { what: path }) : advise('rename', { from: near, to: path }),
        isRefusal: true,
      };
    }
  },
};

/** Whether a file or folder is at a place; of a glob, one of those that it names is enough. */
function isThere(tree: FileTree, place: string, kind: 'file' | 'folder'): boolean {
  if (followLinks(tree, place)?.kind === kind) return true;
  return isGlob(place) && tree.entries.some(({ path }) => matchesGlob(path, place) && followLinks(tree, path)?.kind === kind);
}

/** Where a file that is missing is, in the other of two places in which releases of the host look. */
function placesElsewhere(theme: Theme, path: string, releases: readonly string[]): { path: string; isOld: boolean }[] {
  return theme.platform.contract.files.flatMap((rule): { path: string; isOld: boolean }[] => {
    const place = rule['moved-to'];
    if (place === undefined) return [];
    const old = otherPlace(place, rule.path, path);
    const isFile = (each: string | undefined): each is string => each !== undefined && theme.tree.get(each)?.kind === 'file';
    if (isFile(old) && isInSpan(rule, releases)) return [{ path: old, isOld: true }];
    const now = otherPlace(rule.path, place, path);
    return isFile(now) ? [{ path: now, isOld: false }] : [];
  });
}
