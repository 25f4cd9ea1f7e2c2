import { kindOfPath } from '../../text/file-kinds.ts';
import { NameGuesser } from '../../text/nearest.ts';
import { templatesByKindOfName, templatesOf } from '../../contents/templates.ts';
import { CALL, hostNames, namesDeclared, namesUsed } from '../../templates/names-used.ts';
import type { NamesContract } from '../../platform/schema.ts';
import type { Chain } from '../../theme/chain.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'take-one-out': 'take one of them out, or give it another name',
  'spell-or-take-out': 'write one that the host has, or take it out',
});

/** Names of the template language that neither the host nor the theme has. */
export const templateName: Rule = {
  meta: {
    id: 'template/name',
    severity: 'error',
    isSeen: true,
    summary: 'A template uses a name that neither the host nor the theme has',
    why: 'The host stops at a filter or a function that it does not know, or shows nothing in the place of an object.',
    messages: {
      unknown: '“{name}” is not a {kind} of the host or the theme',
      twice: 'the {kind} “{name}” is there twice, and the host stops at the second',
    },
    example: {
      platform: 'sphinx',
      wrong: { 'layout.html': '{%- extends "basic/layout.html" %}\n{%- block footer %}{{ title|stirptags }}{% endblock %}\n' },
      right: { 'layout.html': '{%- extends "basic/layout.html" %}\n{%- block footer %}{{ title|striptags }}{% endblock %}\n' },
    },
  },
  *check({ theme, chain }) {
    const kinds = templatesByKindOfName(theme);
    for (const { kind, templates } of kinds.filter((each) => each.kind.once)) {
      for (const { path, source, template } of templates) {
        const seen = new Set<string>();
        for (const { name, start, end } of namesUsed(source.text, template, kind)) {
          const at = { file: path, source, range: { start, end } };
          if (seen.has(name)) yield { message: 'twice', args: { name, kind: kind.called }, ...at, hint: advise('take-one-out') };
          seen.add(name);
        }
      }
    }
    // A parent that is not here may declare anything.
    if (chain.broken !== undefined) return;
    for (const { kind, templates } of kinds.filter((each) => !each.kind.inherited)) {
      const isHost = hostNames(kind);
      let own: ReadonlySet<string> | undefined;
      let words: ReadonlySet<string> | undefined;
      let guesser: NameGuesser | undefined;
      for (const { path, source, template } of templates) {
        for (const { name, start, end } of namesUsed(source.text, template, kind)) {
          if (isHost(name)) continue;
          own ??= declaredIn(chain, kind);
          if (own.has(name) || (words ??= wordsOfCode(chain, kind)).has(name)) continue;
          guesser ??= new NameGuesser([...kind.known.filter((each) => !each.includes('*')), ...own]);
          const near = guesser.nearest(name);
          const hint = near === undefined ? advise('spell-or-take-out') : advise('did-you-mean', { near });
          yield { message: 'unknown', args: { name, kind: kind.called }, file: path, source, range: { start, end }, hint };
        }
      }
    }
  },
};

/** All names of a kind that templates of the chain make. */
function declaredIn({ themes }: Chain, kind: NamesContract): Set<string> {
  const placed = themes.flatMap((theme) => [...templatesOf(theme)]);
  return new Set(placed.flatMap(({ source, template }) => namesDeclared(source.text, template, kind)));
}

/** The words of the code of a chain, which can bring such names; scripts bring functions alone. */
function wordsOfCode({ themes }: Chain, kind: NamesContract): ReadonlySet<string> {
  const kinds = kind.shape === CALL ? ['code', 'script'] : ['code'];
  const isCode = (path: string): boolean => kinds.includes(kindOfPath(path));
  const texts = themes.flatMap((theme) =>
    theme.tree.entries.flatMap(({ kind, path }) => (kind === 'file' && isCode(path) ? (theme.source(path)?.text ?? []) : [])),
  );
  return new Set(texts.flatMap((text) => text.match(/[\p{L}\p{N}_$]+/gu) ?? []));
}
