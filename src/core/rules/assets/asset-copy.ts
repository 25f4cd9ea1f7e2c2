import type { Theme } from '../../theme/theme.ts';
import { kindOfFile } from '../../contents/templates.ts';
import { loadedSheets } from '../../contents/sheets.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Stylesheets that say the same and are both loaded: a copy and what it was made from. */
export const assetCopy: Rule = {
  meta: {
    id: 'asset/copy',
    severity: 'warning',
    summary: 'A stylesheet that is loaded beside its copy',
    why: 'Everything in it is loaded twice; what is changed in the one is undone by the other.',
    messages: { copy: '{path} says the same as {other}, and both are loaded', same: 'says the same' },
    example: {
      platform: 'cordada',
      wrong: {
        'bundles/base.yaml': 'sheets: [css/cierzo.css, css/copy.css]\n',
        'css/cierzo.css': '.cierzo-x { top: 0; margin: 0 auto }\n',
        'css/copy.css': '.cierzo-x { top: 0; margin: 0 auto }\n',
      },
      right: { 'bundles/base.yaml': 'sheets: [css/cierzo.css]\n', 'css/cierzo.css': '.cierzo-x { top: 0; margin: 0 auto }\n' },
    },
    isNameBlind: true,
  },
  *check({ theme, chain }) {
    const seen = new Map<string, string>();
    for (const sheet of loadedSheets(chain)) {
      if (sheet.theme !== theme || kindOfFile(theme, sheet.path) !== 'stylesheet') continue;
      const text = said(theme, sheet.path);
      if (text.length < SHORT) continue;
      const other = seen.get(text);
      if (other === undefined) seen.set(text, sheet.path);
      else if (other !== sheet.path)
        yield {
          message: 'copy',
          args: { path: sheet.path, other },
          file: sheet.path,
          related: [{ message: 'same', file: other }],
          hint: advise('load-or-remove'),
        };
    }
  },
};

/** Shorter files can be the same by chance. */
const SHORT = 20;

function said(theme: Theme, path: string): string {
  return (theme.source(path)?.text ?? '').replace(/\/\*[^]*?\*\//g, '').replace(/\s+/g, '');
}
