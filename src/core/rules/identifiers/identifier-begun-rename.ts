import { ownNameOf } from '../../contents/own-name.ts';
import { shellWord } from '../../text/shell-word.ts';
import { advices } from '../advice.ts';
import type { Report, Rule } from '../rule.ts';

/** With fewer than this a theme holds a stray name, and nobody began to rename it. */
const LEAST = 2;

const advise = advices({
  'finish-rename': 'finish the rename: pionero rename {own} --was {other}',
});

/** A theme that was copied, and in which some names were changed by hand. One finding takes the place of one for each name. */
export const identifierBegunRename: Rule = {
  meta: {
    id: 'identifier/begun-rename',
    severity: 'error',
    isOfLeftNames: true,
    summary: 'A theme in which much still carries the name of the theme that it was copied from',
    why: 'What carries another theme’s name is not found under this one’s, or takes the other’s place.',
    messages: { begun: '{places} places still carry the name of the theme “{other}”: {files}' },
    example: {
      platform: 'vereda',
      siblings: { lumbre: { 'docs/lumbre-notes.txt': 'x\n' } },
      wrong: { 'docs/lumbre-notes.txt': 'x\n', 'hooks.php': '<?php\nfunction lumbre_menu() {}\n' },
      right: { 'docs/cierzo-notes.txt': 'x\n', 'hooks.php': '<?php\nfunction cierzo_menu() {}\n' },
    },
  },
  *after({ found, own, parents, once }) {
    // Where the whole theme has another name than its folder, own-name says so.
    const called = once(ownNameOf)?.id;
    const carried = new Map<string, Report[]>();
    for (const report of found) {
      const { carries } = report;
      if (carries !== undefined && carries !== called && !parents.includes(carries))
        carried.set(carries, [...(carried.get(carries) ?? []), report]);
    }
    for (const [other, reports] of carried) {
      const places = new Set(reports.map(({ file, range }) => `${file}:${range?.start ?? ''}`)).size;
      if (places < LEAST) continue;
      const files = [...new Set(reports.map(({ file }) => file))].sort();
      const some = files.length > 3 ? [...files.slice(0, 2), `and ${files.length - 2} others`] : files;
      yield {
        message: 'begun',
        args: { other, places, files: some.join(', ') },
        file: '',
        isRefusal: reports.some(({ isRefusal }) => isRefusal === true),
        hint: advise('finish-rename', { own: shellWord(own), other: shellWord(other) }),
        absorbs: reports,
      };
    }
  },
};
