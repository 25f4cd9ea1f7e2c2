import { ownNameOf } from '../../contents/own-name.ts';
import { shellWord } from '../../text/shell-word.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'rename-as-called':
    'rename the folder: pionero rename {folder} {own}; or let the theme be called like it: pionero rename {folder} --was {own}',
});

/** A theme whose folder has another name than the theme itself: it was downloaded, or copied. One finding stands for all that follows from it. */
export const identifierOwnName: Rule = {
  meta: {
    id: 'identifier/own-name',
    severity: 'warning',
    isSign: true,
    summary: 'The folder has another name than the theme calls itself by',
    why: 'The host knows the theme by its folder, and finds nothing in it that is called so.',
    messages: { calls: 'this folder is called “{folder}”, and the theme calls itself “{own}”' },
    example: {
      platform: 'vereda',
      wrong: {
        'sheet.css': '/*---\ntitle: Albar\nversion: 1.0.0\nhosts: ">=2"\n---*/\n.albar-main { margin: 0 }\n.albar-lead { margin: 0 }\n',
        'main.html': '<main class="albar-main">{{{page.content}}}</main>\n',
      },
      right: {},
    },
  },
  *after({ found, own: folder, once }) {
    const own = once(ownNameOf)?.id;
    if (own === undefined) return;
    const reports = found.filter(({ carries }) => carries === own);
    yield {
      message: 'calls',
      args: { folder, own },
      file: '',
      // A file that the host looks for under the folder’s name, and does not find, has its own error.
      severity: reports.length > 0 ? 'error' : undefined,
      isRefusal: reports.some(({ isRefusal }) => isRefusal === true),
      hint: advise('rename-as-called', { folder: shellWord(folder), own }),
      absorbs: reports,
    };
  },
};
