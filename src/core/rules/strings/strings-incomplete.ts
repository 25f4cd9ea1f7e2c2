import { po } from 'gettext-parser';
import { findSyntax } from '../../documents/syntaxes.ts';
import type { ValueNode } from '../../documents/syntax.ts';
import { fillShape, wholePattern } from '../../platform/shape.ts';
import type { Rule } from '../rule.ts';

/** Catalogues that lack texts which another language has. */
export const stringsIncomplete: Rule = {
  meta: {
    id: 'strings/incomplete',
    severity: 'warning',
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
    const { strings } = theme.platform.contract;
    if (strings === undefined) return;
    const pattern = wholePattern(fillShape(strings.file, theme.names));
    const catalogues = theme.tree.entries.flatMap(({ kind, path }) => {
      const source = kind === 'file' && pattern.test(path) ? theme.source(path) : undefined;
      const keys = source === undefined ? undefined : keysOf(source.text, strings.format);
      return keys === undefined ? [] : [{ path, source, keys }];
    });
    const fullest = catalogues.toSorted((a, b) => b.keys.length - a.keys.length)[0];
    if (fullest === undefined) return;
    for (const { path, source, keys } of catalogues) {
      const own = new Set(keys);
      const missing = fullest.keys.filter((key) => !own.has(key));
      const [key] = missing;
      if (key === undefined) continue;
      const more = missing.length > 1 ? ` and ${missing.length - 1} more` : '';
      yield { message: 'missing', args: { path, key, more, other: fullest.path }, file: path, source, hint: 'translate it there' };
    }
  },
};

/** The keys of all texts in a catalogue; undefined when it cannot be read whole, and may lack anything. */
function keysOf(text: string, format: 'po' | 'ini' | 'json'): string[] | undefined {
  if (format === 'po') return messageIds(text);
  const reading = findSyntax(format)?.read(text, {});
  return reading === undefined || reading.problems.length > 0 ? undefined : keyPaths(reading.root, '');
}

function messageIds(text: string): string[] | undefined {
  try {
    const { translations } = po.parse(text);
    return Object.entries(translations).flatMap(([context, messages]) =>
      Object.keys(messages)
        .filter((id) => id !== '')
        .map((id) => (context === '' ? id : `${context}: ${id}`)),
    );
  } catch {
    return undefined;
  }
}

function keyPaths(node: ValueNode | undefined, prefix: string): string[] {
  if (node?.kind !== 'map') return [prefix];
  return node.entries.flatMap(({ key, value }) => keyPaths(value, prefix === '' ? key : `${prefix}.${key}`));
}
