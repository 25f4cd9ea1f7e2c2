import { childrenOf, type MapEntry, type ValueNode } from '../../documents/syntax.ts';
import { findSyntax } from '../../documents/syntaxes.ts';
import { fillShape, wholePattern } from '../../names/shape.ts';
import { Wildcard } from '../../text/wildcard.ts';
import { readCatalogues } from '../../contents/catalogues.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Texts whose keys do not carry the theme's name, where the host keeps the texts of all themes in one place. */
export const stringsKey: Rule = {
  meta: {
    id: 'strings/key',
    severity: 'error',
    isSeen: true,
    summary: 'The key of a text does not carry the theme’s name',
    why: 'The host keeps the texts of all themes in one place: a key without the theme’s name is another theme’s text, or nobody’s.',
    messages: { other: '“{key}” must look like {shape}' },
    example: { none: 'none of the shipped hosts keeps the texts of all themes in one place' },
  },
  *check({ theme }) {
    const { strings } = theme.platform.contract;
    if (strings?.keys === undefined) return;
    const shape = fillShape(strings.keys, theme.names);
    const own = wholePattern(strings.keys, theme.names);
    const brought = strings['host-keys'].map((key) => new Wildcard(key, /\n/));
    for (const { path, source } of readCatalogues(theme)) {
      const root = findSyntax(strings.format)?.read(source.text, { lenient: true, ...strings.options }).root;
      for (const { key, keyStart, keyEnd } of textsIn(root)) {
        if (own.test(key) || brought.some((each) => each.matches(key))) continue;
        yield {
          message: 'other',
          args: { key, shape },
          file: path,
          source,
          range: { start: keyStart, end: keyEnd },
          hint: advise('rename-key', { from: key, to: shape }),
        };
      }
    }
  },
};

/** The entries of a catalogue that are texts, at any depth. */
function textsIn(node: ValueNode | undefined): MapEntry[] {
  return childrenOf(node).flatMap((entry) => (entry.value.kind === 'map' ? textsIn(entry.value) : [entry]));
}
