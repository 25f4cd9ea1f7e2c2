import { matchesAny } from '../../files/glob.ts';
import { shapePattern } from '../../names/shape.ts';
import type { FragmentContract } from '../../platform/schema.ts';
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
    isOfOneFile: true,
    isSeen: true,
    summary: 'A template lacks a fragment that the host fills',
    why: 'Extensions reach a page only through the places that its template prints for them.',
    messages: { missing: 'the template holds “{holds}” but not “{text}”: {why}', lacks: 'the template does not hold “{text}”: {why}' },
    example: {
      platform: 'vereda',
      wrong: { 'main.html': '<html><head><title>Cierzo</title></head><body>{{{host.foot}}}</body></html>\n' },
      right: { 'main.html': '<html><head><title>Cierzo</title>{{{host.head}}}</head><body>{{{host.foot}}}</body></html>\n' },
    },
  },
  *check({ theme, chain }) {
    const { fragments = [], 'parent-named': parents = [] } = theme.platform.contract.templates ?? {};
    for (const { path, source, template } of fragments.length === 0 ? [] : templatesOf(theme)) {
      const { text } = source;
      const find = (wanted: string, from = 0): number => {
        let at = text.indexOf(wanted, from);
        while (at >= 0 && liesIn(template.comments, at)) at = text.indexOf(wanted, at + 1);
        return at;
      };
      for (const fragment of fragments) {
        if (fragment.files !== undefined && !matchesAny(path, fragment.files)) continue;
        const holds = find(fragment['when-holds']);
        // A partial that the template includes prints it as well.
        if (holds < 0 || asksParent(text, parents) || isShown(shownText(withIncluded(chain, path)), fragment)) continue;
        const before = fragment.before === undefined ? -1 : find(fragment.before, holds);
        const start = before < 0 ? holds : before;
        yield {
          message: fragment['when-holds'] === '' ? 'lacks' : 'missing',
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

/** Whether a template includes one of a theme that it names: what that prints is not known here. */
function asksParent(text: string, shapes: readonly string[]): boolean {
  return shapes.some((shape) => shapePattern(shape, {}, '').test(text));
}

function isShown(shown: string, { text, 'any-case': isAnyCase }: FragmentContract): boolean {
  return isAnyCase ? shown.toLowerCase().includes(text.toLowerCase()) : shown.includes(text);
}

/** On a line of its own when what it precedes begins a line, with two spaces more of indentation. */
function insertBefore(text: string, at: number, fragment: string): TextEdit {
  const lineStart = text.lastIndexOf('\n', at - 1) + 1;
  const indent = text.slice(lineStart, at);
  const lineEnd = text.includes('\r\n') ? '\r\n' : '\n';
  return /^[ \t]*$/.test(indent)
    ? { start: lineStart, end: lineStart, text: `${indent}  ${fragment}${lineEnd}` }
    : { start: at, end: at, text: fragment };
}
