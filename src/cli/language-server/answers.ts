import {
  CompletionItemKind,
  SymbolKind,
  type CompletionItem,
  type DocumentLink,
  type DocumentSymbol,
  type Location,
  type Range,
} from 'vscode-languageserver/node';
import { findDeclarations } from '../../core/contents/identifiers.ts';
import { declaredRegions, printedRegions } from '../../core/contents/regions.ts';
import type { Completion } from '../../core/editor/completion.ts';
import type { EditedFile } from '../../core/editor/editor-workspace.ts';
import { fieldsIn, spotsIn, type Spot, type Target } from '../../core/editor/spots.ts';
import { keyPath } from '../../core/theme/documents.ts';
import { mainFile } from '../../core/theme/main-file.ts';
import { templateAt } from '../../core/contents/templates.ts';
import { usesAround } from './family.ts';
import { locationOf, placeOf, rangeOf, uriOf } from './places.ts';
import type { Session } from './session.ts';

/** The thing that is named at an offset. */
export function spotAt(file: EditedFile, offset: number): Spot | undefined {
  return spotsIn(file).find(({ start, end }) => start <= offset && offset <= end);
}

/** Where a thing is defined: a file, the manifest of a theme, the declaration of a region. */
export function definitionsOf({ chain }: EditedFile, target: Target): Location[] {
  switch (target.kind) {
    case 'file':
      return locationOf(target.theme, target.path);
    case 'theme':
      return locationOf(target.theme, mainFile(target.theme));
    case 'brought':
      return [];
    case 'region': {
      const declared = declaredRegions(chain);
      const places = declared?.regions.filter(({ name }) => name === target.name) ?? [];
      if (declared !== undefined && places.length > 0)
        return places.flatMap((region) =>
          locationOf(declared.theme, region.fact.document.path, rangeOf(region.fact.document.source, region)),
        );
      return printedPlaces(chain, target.name);
    }
  }
}

function printedPlaces(chain: EditedFile['chain'], name: string): Location[] {
  return printedRegions(chain).flatMap((region) =>
    region.name === name ? locationOf(region.theme, region.source.file, rangeOf(region.source, region)) : [],
  );
}

/** Where the name that stands at an offset is declared in the theme: a function, a setting, a class. */
export function declarationsAt({ theme, path }: EditedFile, offset: number): Location[] {
  const text = theme.source(path)?.text ?? '';
  const before = /[\w$-]*$/.exec(text.slice(0, offset))?.[0] ?? '';
  const word = before + (/^[\w$-]*/.exec(text.slice(offset))?.[0] ?? '');
  if (word === '') return [];
  return [...findDeclarations(theme)].flatMap((each) =>
    each.name === word ? locationOf(theme, each.file, rangeOf(theme.source(each.file), each)) : [],
  );
}

/** Every place that names what is named at an offset; where nothing is named there, what names the file itself. */
export function referencesAt(session: Session, file: EditedFile, offset: number): Location[] {
  const target = spotAt(file, offset)?.target ?? ({ kind: 'file', theme: file.theme, path: file.path, how: 'path' } as const);
  const uses = usesAround(session, file, target);
  return uses.flatMap((use) => locationOf(use.theme, use.path, rangeOf(use.theme.source(use.path), use)));
}

export function linksIn(file: EditedFile): DocumentLink[] {
  return spotsIn(file).flatMap(({ target, ...range }) => {
    const place = target.kind === 'file' ? placeOf(target.theme, target.path) : undefined;
    return place === undefined ? [] : [{ range: rangeOf(file.theme.source(file.path), range), target: uriOf(place) }];
  });
}

/** The outline of a file: the facts of a document, the names that code declares, the sections and includes of a template. */
export function symbolsOf(file: EditedFile): DocumentSymbol[] {
  const { theme, path } = file;
  const source = theme.source(path);
  const symbol = (name: string, kind: SymbolKind, range: { start: number; end: number }, detail?: string): DocumentSymbol => {
    const at = rangeOf(source, range);
    return { name, kind, range: at, selectionRange: at, ...(detail === undefined ? {} : { detail }) };
  };
  const facts = fieldsIn(file).map(({ field, ...range }) => symbol(keyPath(field).join('.'), SymbolKind.Property, range, field.about));
  const declared = [...findDeclarations(theme)]
    .filter((each) => each.file === path)
    .map((each) => symbol(each.name, SymbolKind.Function, each));
  const template = templateAt(theme, path)?.template;
  const includes = (template?.includes ?? []).map((include) => symbol(include.name, SymbolKind.Module, include, 'included'));
  const sections = (template?.sections ?? []).map((section) =>
    symbol(section.name, SymbolKind.Namespace, { start: section.start, end: section.until }),
  );
  return [...facts, ...declared, ...includes, ...sections.filter(({ name }) => name !== '')];
}

const KINDS: Readonly<Record<Completion['kind'], CompletionItemKind>> = {
  field: CompletionItemKind.Property,
  value: CompletionItemKind.Value,
  file: CompletionItemKind.File,
  partial: CompletionItemKind.Module,
  region: CompletionItemKind.Field,
  text: CompletionItemKind.Text,
  theme: CompletionItemKind.Class,
  fragment: CompletionItemKind.Snippet,
  name: CompletionItemKind.Function,
};

/** @param range what it takes the place of */
export function completionItem(range: Range, { label, kind, about, insert }: Completion, order: number): CompletionItem {
  return {
    label,
    kind: KINDS[kind],
    ...(about === undefined ? {} : { detail: about }),
    sortText: String(order).padStart(5, '0'),
    textEdit: { range, newText: insert },
  };
}
