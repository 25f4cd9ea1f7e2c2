import { followLinks } from '../../files/file-tree.ts';
import { isInSpan, isNeeded } from '../../platform/platform.ts';
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
      if (!isNeeded(rule.required, theme.isChild) || !isInSpan(rule, releases)) continue;
      const path = fillShape(rule.path, theme.names);
      const places = [path, ...(rule['one-of'] ?? [])];
      if (places.some((place) => followLinks(theme.tree, place)?.kind === rule.kind)) continue;
      // A link that ends nowhere, or outside, has a finding of its own.
      if (places.some((place) => theme.tree.get(place)?.kind === 'link')) continue;
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
