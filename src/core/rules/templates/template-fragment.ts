import type { TextEdit } from '../../text/edits.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';
import { templatesOf, shownText, withIncluded } from '../../contents/templates.ts';
import { liesIn } from '../../templates/template.ts';

const advise = advices({
  'put-before-text': 'put “{text}” before “{before}”',
  'put-in': 'put “{text}” into it',
});

/** Templates without what the host must print in them. */
export const templateFragment: Rule = {
  meta: {
    id: 'template/fragment',
    severity: 'error',
    isSeen: true,
    summary: 'A template lacks a fragment that the host fills',
    why: 'Extensions reach a page only through the places that its template prints for them.',
    messages: { missing: 'the template holds “{holds}” but not “{text}”: {why}' },
    example: {
      platform: 'vereda',
      wrong: { 'main.html': '<html><head><title>Cierzo</title></head><body>{{{host.foot}}}</body></html>\n' },
      right: { 'main.html': '<html><head><title>Cierzo</title>{{{host.head}}}</head><body>{{{host.foot}}}</body></html>\n' },
    },
  },
  *check({ theme, chain }) {
    const { fragments = [] } = theme.platform.contract.templates ?? {};
    for (const { path, source, template } of fragments.length === 0 ? [] : templatesOf(theme)) {
      const { text } = source;
      const find = (wanted: string, from = 0): number => {
        let at = text.indexOf(wanted, from);
        while (at >= 0 && liesIn(template.comments, at)) at = text.indexOf(wanted, at + 1);
        return at;
      };
      for (const fragment of fragments) {
        const holds = find(fragment['when-holds']);
        // A partial that the template includes prints it as well.
        if (holds < 0 || shownText(withIncluded(chain, path)).includes(fragment.text)) continue;
        const before = fragment.before === undefined ? -1 : find(fragment.before, holds);
        const start = before < 0 ? holds : before;
        yield {
          message: 'missing',
          args: { holds: fragment['when-holds'], text: fragment.text, why: fragment.why },
          file: path,
          source,
          range: { start, end: start + (before < 0 ? fragment['when-holds'] : (fragment.before ?? '')).length },
          hint:
            fragment.before === undefined
              ? advise('put-in', { text: fragment.text })
              : advise('put-before-text', { text: fragment.text, before: fragment.before }),
          fix:
            before < 0
              ? undefined
              : {
                  title: advise('put-before-text', { text: fragment.text, before: fragment.before ?? '' }),
                  isSafe: true,
                  file: path,
                  edits: [insertBefore(text, before, fragment.text)],
                },
        };
      }
    }
  },
};

/** On a line of its own when what it precedes begins a line, with two spaces more of indentation. */
function insertBefore(text: string, at: number, fragment: string): TextEdit {
  const lineStart = text.lastIndexOf('\n', at - 1) + 1;
  const indent = text.slice(lineStart, at);
  const lineEnd = text.includes('\r\n') ? '\r\n' : '\n';
  return /^[ \t]*$/.test(indent)
    ? { start: lineStart, end: lineStart, text: `${indent}  ${fragment}${lineEnd}` }
    : { start: at, end: at, text: fragment };
}
