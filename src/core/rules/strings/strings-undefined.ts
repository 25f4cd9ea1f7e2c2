import { matchesAny } from '../../files/glob.ts';
import { matchesOf } from '../../contents/references.ts';
import { Wildcard } from '../../text/wildcard.ts';
import { NameGuesser } from '../../text/nearest.ts';
import { readCatalogues } from '../../contents/catalogues.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';
import type { FileKind } from '../../text/file-kinds.ts';
import { kindOfFile, templateAt } from '../../contents/templates.ts';
import { liesIn } from '../../templates/template.ts';

/** The calls that can ask for a text. */
const ASKING: ReadonlySet<FileKind> = new Set(['markup', 'code', 'script']);

const advise = advices({
  'add-to-catalogues': 'add it to the catalogues',
  'ask-for': 'ask for “{key}”',
});

/** Texts that templates and code ask for and no catalogue of the chain has. */
export const stringsUndefined: Rule = {
  meta: {
    id: 'strings/undefined',
    severity: 'error',
    isSeen: true,
    summary: 'A text is asked for that no catalogue has',
    why: 'Visitors read the key in its place, in every language.',
    messages: { undefined: '“{key}” is in none of the catalogues ({catalogues})' },
    example: {
      platform: 'horquilla',
      wrong: { 'lib/cierzo_look.php': "<?php\nfunction cierzo_look_head() { return get_text('genral', 'look_cierzo'); }\n" },
      right: { 'lib/cierzo_look.php': "<?php\nfunction cierzo_look_head() { return get_text('general', 'look_cierzo'); }\n" },
    },
  },
  *check({ theme, chain }) {
    const used = theme.platform.contract.strings?.used;
    const catalogues = used === undefined ? [] : chain.themes.flatMap(readCatalogues);
    if (used === undefined || catalogues.length === 0) return;
    const brought = (theme.platform.contract.strings?.['host-keys'] ?? []).map((key) => new Wildcard(key, /\n/));
    const known = new Set(catalogues.flatMap(({ keys }) => keys));
    const guesser = new NameGuesser(known);
    const places = theme.platform.contract.strings?.['used-in'] ?? [];
    for (const { path, kind } of theme.tree.entries) {
      const isAsking = places.length > 0 ? matchesAny(path, places) : ASKING.has(kindOfFile(theme, path));
      const source = kind === 'file' && isAsking ? theme.source(path) : undefined;
      const template = templateAt(theme, path)?.template;
      for (const match of source === undefined ? [] : matchesOf(used, source.text, theme.names)) {
        if (template !== undefined && liesIn(template.comments, match.index)) continue;
        const key = match.groups?.['name'] ?? match.groups?.['path'] ?? '';
        if (known.has(key) || brought.some((each) => each.matches(key))) continue;
        const near = guesser.nearest(key);
        const start = match.index + match[0].indexOf(key);
        yield {
          message: 'undefined',
          args: { key, catalogues: catalogues.map((each) => each.path).join(', ') },
          file: path,
          source,
          range: { start, end: start + key.length },
          hint: near === undefined ? advise('add-to-catalogues') : advise('did-you-mean', { near }),
          fix:
            near === undefined
              ? undefined
              : {
                  title: advise('ask-for', { key: near }),
                  isSafe: false,
                  file: path,
                  edits: [{ start, end: start + key.length, text: near }],
                },
        };
      }
    }
  },
};
