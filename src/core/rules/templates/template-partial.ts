import { matchesAny } from '../../files/glob.ts';
import { shapePattern } from '../../platform/shape.ts';
import { findInChain } from '../../theme/chain.ts';
import { NameGuesser } from '../../text/nearest.ts';
import type { Rule } from '../rule.ts';

/** Templates that include a partial which no theme of the chain has. */
export const templatePartial: Rule = {
  meta: {
    id: 'template/partial',
    severity: 'error',
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
    const templates = theme.platform.contract.templates;
    if (templates?.partials === undefined || chain.broken !== undefined) return;
    const { file, include } = templates.partials;
    const known = chain.themes.flatMap((each) =>
      each.tree.entries.flatMap((entry) => shapePattern(file, {}, '').exec(entry.path)?.groups?.['path'] ?? []),
    );
    const guesser = new NameGuesser(known);
    for (const entry of theme.tree.entries) {
      if (entry.kind !== 'file' || !matchesAny(entry.path, templates.files)) continue;
      const source = theme.source(entry.path);
      for (const match of source?.text.matchAll(shapePattern(include)) ?? []) {
        const name = match.groups?.['path'] ?? '';
        const path = file.replace('{path}', name);
        if (findInChain(chain, path) !== undefined) continue;
        const near = guesser.nearest(name);
        const start = match.index + match[0].lastIndexOf(name);
        yield {
          message: 'missing',
          args: { name, path, chain: chain.themes.length > 1 ? ', here or in a parent' : '' },
          file: entry.path,
          source,
          range: { start, end: start + name.length },
          hint: near === undefined ? `add ${path}, or take the line out` : `did you mean “${near}”?`,
          fix:
            near === undefined
              ? undefined
              : { title: `include “${near}”`, isSafe: false, file: entry.path, edits: [{ start, end: start + name.length, text: near }] },
        };
      }
    }
  },
};
