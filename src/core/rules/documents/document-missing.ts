import { foldedPath } from '../../files/portable-names.ts';
import { isInSpan, isNeeded } from '../../platform/platform.ts';
import { wholePattern } from '../../names/shape.ts';
import { ownNameOf } from '../../contents/own-name.ts';
import { advices } from '../advice.ts';
import { beginFix } from './begin-fix.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'other-file': 'was another file put in its place?',
});

/** Documents that the platform requires and the theme does not have, or that cannot be read. */
export const documentMissing: Rule = {
  meta: {
    id: 'document/missing',
    severity: 'error',
    summary: 'A document that the host needs is missing or cannot be read',
    why: 'The host learns from its documents that a theme exists and what it is called.',
    messages: {
      missing: '{title} is missing: {effect}',
      case: '{title} is missing; “{near}” differs by case only, which counts on most servers',
      otherName: '{title} is missing; {near} is named after another id: {effect}',
      unreadable: '{title} cannot be read: {reason}',
      tooLarge: '{title} has more than 4 MiB, too large for a document',
      notText: '{title} is not a text file',
    },
    example: {
      platform: 'cordada',
      wrong: { 'cierzo.cordada.yaml': null, 'lumbre.cordada.yaml': 'title: Cierzo\nis: theme\nhosts: ">=4"\nbase: none\nload: [base]\n' },
      right: {},
    },
  },
  *check({ theme, releases, shelves, once }) {
    for (const document of theme.documents) {
      const { contract, path, title, state } = document;
      const isRequired = isNeeded(contract.required, theme.isChild) && isInSpan(contract, releases);
      if (state === 'read' || (state === 'missing' && !isRequired)) continue;
      const at = { file: path, isRefusal: isRequired };
      if (state === 'missing') {
        const effect = contract.without ?? 'the host does not recognize the theme';
        const twin = theme.tree.entries.find((entry) => foldedPath(entry.path) === foldedPath(path))?.path;
        if (twin !== undefined) {
          yield { ...at, message: 'case', args: { title, near: twin }, hint: advise('rename', { from: twin, to: path }) };
          continue;
        }
        // A manifest that carries the old name of a copied theme is the usual reason.
        const near = theme.tree.entries.find((entry) => entry.kind === 'file' && wholePattern(contract.path).test(entry.path))?.path;
        yield near === undefined
          ? {
              ...at,
              message: 'missing',
              args: { title, effect },
              ...(beginFix(theme, document) ?? { hint: advise('add', { what: path }) }),
            }
          : {
              ...at,
              message: 'otherName',
              args: { title, effect, near },
              carries: shelves.themeWhere(contract.path, near)?.id ?? once(ownNameOf)?.id,
              hint: advise('rename', { from: near, to: path }),
            };
      } else if (state === 'unreadable') {
        yield {
          ...at,
          message: 'unreadable',
          args: { title, reason: document.reason ?? '' },
          hint: advise(theme.tree.get(path)?.kind === 'link' ? 'copy-in-place' : 'allow-reading'),
        };
      } else if (state === 'too-large') {
        yield { ...at, message: 'tooLarge', args: { title }, hint: advise('other-file') };
      } else {
        yield { ...at, message: 'notText', args: { title }, hint: advise('save-utf8') };
      }
    }
  },
};
