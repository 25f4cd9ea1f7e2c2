import { findInChain } from '../../theme/chain.ts';
import { NameGuesser } from '../../text/nearest.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';
import { partialsOf, templatesOf } from '../../theme/templates.ts';
import { pathOfPartial } from '../../templates/template-index.ts';

/** Templates that include a partial which no theme of the chain has. */
export const templatePartial: Rule = {
  meta: {
    id: 'template/partial',
    severity: 'error',
    isSeen: true,
    summary: 'A template includes a partial that does not exist',
    why: 'Depending on its release a host shows nothing in its place or stops the page.',
    messages: { missing: 'the partial “{name}” does not exist: there is no {path}{chain}' },
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
      for (const { name, nameStart: start } of template.includes) {
        const path = pathOfPartial(contract, name);
        if (path === undefined || findInChain(chain, path) !== undefined) continue;
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
