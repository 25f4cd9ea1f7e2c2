import { fillShape, wholePattern } from '../../names/shape.ts';
import { ownNameOf } from '../../contents/own-name.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Catalogues of translations that are named after another theme. */
export const stringsName: Rule = {
  meta: {
    id: 'strings/name',
    severity: 'error',
    isSeen: true,
    summary: 'A catalogue of translations is named after another theme',
    why: 'The host looks for a theme’s translations under the theme’s own name, and shows untranslated texts.',
    messages: { other: '{path} is named after another theme' },
    example: {
      platform: 'horquilla',
      wrong: { 'strings/de/look_lumbre.po': 'msgid ""\nmsgstr ""\n"Language: de\\n"\n' },
      right: {
        'strings/de/look_cierzo.po':
          'msgid ""\nmsgstr ""\n"Language: de\\n"\n\nmsgid "general"\nmsgstr "x"\n\nmsgid "colours"\nmsgstr "x"\n',
      },
    },
  },
  *check({ theme, shelves, once }) {
    const shape = theme.platform.contract.strings?.file;
    if (shape === undefined) return;
    const own = wholePattern(shape, theme.names);
    const any = wholePattern(shape);
    for (const entry of theme.tree.entries) {
      const match = own.test(entry.path) ? null : any.exec(entry.path);
      if (match === null) continue;
      const wanted = fillShape(shape, theme.names).replace('{locale}', match.groups?.['locale'] ?? '');
      yield {
        message: 'other',
        args: { path: entry.path },
        file: entry.path,
        carries: shelves.themeWhere(shape, entry.path)?.id ?? once(ownNameOf)?.id,
        hint: advise('rename-it', { to: wanted }),
      };
    }
  },
};
