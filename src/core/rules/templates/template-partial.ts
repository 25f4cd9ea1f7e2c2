import type { Chain } from '../../theme/chain.ts';
import type { SourceDocument } from '../../text/source-document.ts';
import { compareRanges } from '../../text/edits.ts';
import { nearest } from '../../text/nearest.ts';
import { templateTarget } from '../../theme/serving.ts';
import { NameGuesser } from '../../text/nearest.ts';
import { advise } from '../advice.ts';
import type { Report, Rule } from '../rule.ts';
import { partialsOf, templatesOf } from '../../theme/templates.ts';

/** Templates that include a partial which no theme of the chain has. */
export const templatePartial: Rule = {
  meta: {
    id: 'template/partial',
    severity: 'error',
    isSeen: true,
    summary: 'A template includes a partial that does not exist',
    why: 'Depending on its release a host shows nothing in its place or stops the page.',
    messages: {
      missing: 'the partial “{name}” does not exist: there is no {path}{chain}',
      stranger: '“{name}” is in the theme “{id}”, which this one does not build on',
    },
    example: {
      platform: 'vereda',
      wrong: { 'pages/front.html': '{{> heder}}\n', 'partials/header.html': '<header></header>\n' },
      right: { 'pages/front.html': '{{> header}}\n', 'partials/header.html': '<header></header>\n' },
    },
  },
  *check({ theme, chain }) {
    if (theme.platform.contract.templates?.partials === undefined || chain.broken !== undefined) return;
    const guesser = new NameGuesser(chain.themes.flatMap((each) => partialsOf(each).map(({ name }) => name)));
    for (const { path: file, source, template, contract } of templatesOf(theme)) {
      for (const { name, nameStart: start } of [...template.includes, ...template.extends].sort(compareRanges)) {
        const target = templateTarget(chain, contract, name);
        if (target === undefined || target.kind === 'found') continue;
        if (target.kind === 'stranger') {
          yield strangerReport(file, source, name, start, target.id, chain);
          continue;
        }
        const { path } = target;
        const near = guesser.nearest(name);
        yield {
          message: 'missing',
          args: { name, path, chain: chain.themes.length > 1 ? ', here or in a parent' : '' },
          file,
          source,
          range: { start, end: start + name.length },
          hint: near === undefined ? advise('add-or-drop-line', { what: path }) : advise('did-you-mean', { near }),
          fix:
            near === undefined
              ? undefined
              : { title: advise('include', { name: near }), isSafe: false, file, edits: [{ start, end: start + name.length, text: near }] },
        };
      }
    }
  },
};

/** A template of a theme that is not in the chain: nearly always a parent's name, misspelt or left behind. */
function strangerReport(file: string, source: SourceDocument, name: string, start: number, id: string, chain: Chain): Report {
  const parents = chain.themes[0]?.parents ?? [];
  const known = [...parents, ...chain.themes.map((theme) => theme.names.id)];
  const near = nearest(id, known) ?? (parents.length === 1 ? parents[0] : undefined);
  const range = { start, end: start + id.length };
  return {
    message: 'stranger',
    args: { name, id },
    file,
    source,
    range,
    hint: near === undefined ? advise('add-or-drop-line', { what: id }) : advise('did-you-mean', { near }),
    fix:
      near === undefined ? undefined : { title: advise('write', { value: near }), isSafe: false, file, edits: [{ ...range, text: near }] },
  };
}
