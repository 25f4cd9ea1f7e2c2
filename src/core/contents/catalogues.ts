import { parsePo } from '../documents/po-messages.ts';
import type { SyntaxProblem, ValueNode } from '../documents/syntax.ts';
import { findSyntax } from '../documents/syntaxes.ts';
import { fillShape, wholePattern } from '../names/shape.ts';
import type { SourceDocument } from '../text/source-document.ts';
import type { PlatformContract } from '../platform/schema.ts';
import type { Theme } from '../theme/theme.ts';

/** A catalogue of translations that could be read whole. */
export interface Catalogue {
  readonly path: string;
  readonly source: SourceDocument;
  /** What its texts are called: keys, or the texts themselves in the first language. */
  readonly keys: readonly string[];
}

type StringsContract = NonNullable<PlatformContract['strings']>;

/** The catalogues of a theme where its platform keeps them; those that cannot be read whole may lack anything. */
export function readCatalogues(theme: Theme): Catalogue[] {
  const { strings } = theme.platform.contract;
  return strings === undefined
    ? []
    : filesOf(theme, strings).flatMap((file) => {
        const keys = keysOf(file.source.text, strings);
        return keys === undefined ? [] : [{ ...file, keys }];
      });
}

/** Catalogues that break the rules of their format, each with its first mistake. */
export function catalogueProblems(theme: Theme): { path: string; source: SourceDocument; problem: SyntaxProblem }[] {
  const { strings } = theme.platform.contract;
  return strings === undefined
    ? []
    : filesOf(theme, strings).flatMap((file) => {
        const [problem] = findSyntax(strings.format)?.read(file.source.text, { lenient: true, ...strings.options }).problems ?? [];
        return problem === undefined ? [] : [{ ...file, problem }];
      });
}

function filesOf(theme: Theme, { file }: StringsContract): { path: string; source: SourceDocument }[] {
  const pattern = wholePattern(fillShape(file, theme.names));
  return theme.tree.entries.flatMap(({ kind, path }) => {
    const source = kind === 'file' && pattern.test(path) ? theme.source(path) : undefined;
    return source === undefined ? [] : [{ path, source }];
  });
}

/** The keys of all texts in a catalogue; undefined when it cannot be read whole. */
function keysOf(text: string, { format, options }: StringsContract): string[] | undefined {
  if (format === 'po') return messageIds(text);
  const reading = findSyntax(format)?.read(text, { lenient: true, ...options });
  return reading === undefined || reading.problems.length > 0 ? undefined : keyPaths(reading.root, '');
}

function messageIds(text: string): string[] | undefined {
  try {
    const { translations } = parsePo(text);
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
