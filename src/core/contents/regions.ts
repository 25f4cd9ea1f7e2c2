import type { ValueNode } from '../documents/syntax.ts';
import { shapePattern } from '../names/shape.ts';
import type { TextRange } from '../text/edits.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { findInChain, type Chain } from '../theme/chain.ts';
import type { Fact } from '../theme/documents.ts';
import type { Theme } from '../theme/theme.ts';
import { templatesOf } from './templates.ts';
import { searchTemplate } from '../templates/template-index.ts';

/** A region that a document declares. */
export interface DeclaredRegion extends TextRange {
  readonly name: string;
  readonly fact: Fact;
}

/** A region that a template prints. */
export interface PrintedRegion extends TextRange {
  readonly name: string;
  readonly theme: Theme;
  readonly source: SourceDocument;
}

/** The regions that hold for a chain: those of the nearest theme that declares any; undefined when none does. */
export function declaredRegions(chain: Chain): { theme: Theme; regions: DeclaredRegion[] } | undefined {
  const regions = chain.themes[0]?.platform.contract.regions;
  if (regions === undefined) return undefined;
  for (const theme of chain.themes) {
    const fact = theme.fact(regions.fact);
    if (fact === undefined) continue;
    const nodes = regions['per-role'] && fact.node.kind === 'map' ? fact.node.entries.map((entry) => entry.value) : [fact.node];
    return { theme, regions: nodes.flatMap((node) => regionsIn(node, fact)) };
  }
  return undefined;
}

function regionsIn(node: ValueNode, fact: Fact): DeclaredRegion[] {
  if (node.kind === 'map') return node.entries.map((entry) => ({ name: entry.key, fact, start: entry.keyStart, end: entry.keyEnd }));
  if (node.kind !== 'list') return [];
  return node.items.flatMap((item) =>
    item.kind === 'scalar' ? [{ name: String(item.value), fact, start: item.start, end: item.end }] : [],
  );
}

/** Every region that the templates of a chain print, those that a nearer theme replaces left out. */
export function printedRegions(chain: Chain): PrintedRegion[] {
  const contract = chain.themes[0]?.platform.contract;
  const { regions, templates } = contract ?? {};
  if (regions === undefined || templates === undefined) return [];
  const pattern = shapePattern(regions.printed);
  return chain.themes.flatMap((theme) =>
    [...templatesOf(theme)].flatMap(({ path, source, template }) => {
      if (findInChain(chain, path)?.theme !== theme) return [];
      return [...searchTemplate(template, source.text, pattern)].map((match) => {
        const name = match.groups?.['name'] ?? '';
        const start = match.index + match[0].lastIndexOf(name);
        return { name, theme, source, start, end: start + name.length };
      });
    }),
  );
}
