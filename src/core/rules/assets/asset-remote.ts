import { referencesIn } from '../../contents/references.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'copy-into-theme': 'put a copy of the file into the theme, or accept it where a service makes it anew, as statistics and badges are',
});

/** Styles, scripts, fonts and pictures that are loaded from other hosts. */
export const assetRemote: Rule = {
  meta: {
    id: 'asset/remote',
    severity: 'warning',
    isNameBlind: true,
    summary: 'Something is loaded from another host',
    why: 'Every visitor is told to that host, the page waits for it, and is broken when it is gone; most public directories refuse it.',
    messages: { remote: '“{target}” is loaded from another host' },
    example: {
      platform: 'vereda',
      wrong: { 'styles/a.css': '@import url("https://albar.example/fonts.css");\n' },
      right: { 'styles/a.css': '@import url("fonts.css");\n', 'styles/fonts.css': 'p { margin: 0 }\n' },
    },
  },
  *checkText(source, { theme }) {
    for (const { reference, path } of referencesIn(theme, source)) {
      if (!/^(?:https?:)?\/\/(?!localhost|127\.0\.0\.1)/i.test(reference.target) || isNoFile(source.text, reference.start)) continue;
      const args = { target: reference.target };
      yield { message: 'remote', args, file: path, source, range: reference, hint: advise('copy-into-theme') };
    }
  },
};

/** A link that only says where something is (the page's own address, a profile), and loads nothing. */
function isNoFile(text: string, start: number): boolean {
  const element = text.slice(text.lastIndexOf('<', start), start);
  return (
    /^<link\b/i.test(element) &&
    !/\brel\s*=\s*["']?[^"'>]*\b(?:stylesheet|icon|preload|modulepreload|manifest)\b/i.test(
      text.slice(text.lastIndexOf('<', start), text.indexOf('>', start)),
    )
  );
}
