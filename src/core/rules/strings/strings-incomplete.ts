import { readCatalogues } from '../../contents/catalogues.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'translate-there': 'translate it there',
});

/** Catalogues that lack texts which another language has. */
export const stringsIncomplete: Rule = {
  meta: {
    id: 'strings/incomplete',
    severity: 'warning',
    isSeen: true,
    summary: 'A catalogue of translations lacks texts that another one has',
    why: 'Visitors of that language read some texts in another language, or the keys themselves.',
    messages: { missing: '{path} lacks “{key}”{more}, which {other} has' },
    example: {
      platform: 'estrato',
      wrong: { 'words/en.ini': 'read = Read on\nopen = Open\n', 'words/es.ini': 'read = Leer\n' },
      right: { 'words/en.ini': 'read = Read on\nopen = Open\n', 'words/es.ini': 'read = Leer\nopen = Abrir\n' },
    },
  },
  *check({ theme }) {
    // Where the host falls back on the first language, a text that is not translated yet is not a mistake.
    const catalogues = theme.platform.contract.strings?.incomplete === true ? [] : readCatalogues(theme);
    const fullest = catalogues.toSorted((a, b) => b.keys.length - a.keys.length)[0];
    if (fullest === undefined) return;
    for (const { path, source, keys } of catalogues) {
      const own = new Set(keys);
      const missing = fullest.keys.filter((key) => !own.has(key));
      const [key] = missing;
      if (key === undefined) continue;
      const more = missing.length > 1 ? ` and ${missing.length - 1} more` : '';
      yield { message: 'missing', args: { path, key, more, other: fullest.path }, file: path, source, hint: advise('translate-there') };
    }
  },
};
