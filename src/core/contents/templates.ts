import { matchesAny } from '../files/glob.ts';
import type { NamesContract, TemplateContract } from '../platform/schema.ts';
import { partialAtPath, readTemplate, textWithoutComments, withEndings } from '../templates/template-index.ts';
import { namesOf } from '../templates/names-used.ts';
import { languageAt } from '../templates/languages.ts';
import { namesIn, type Template } from '../templates/template.ts';
import { kindOfPath, type FileKind } from '../text/file-kinds.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { templateTarget } from './serving.ts';
import { findInChain, type Chain } from '../theme/chain.ts';
import type { Theme } from '../theme/theme.ts';

/** A template of a theme, as its platform's language reads it. */
export interface PlacedTemplate {
  readonly theme: Theme;
  readonly path: string;
  readonly source: SourceDocument;
  readonly template: Template;
  readonly contract: TemplateContract;
}

/** Whether a path is one of the platform's template files. */
export function isTemplate({ platform }: Theme, path: string): boolean {
  return matchesAny(path, platform.contract.templates?.files ?? []);
}

/** The purpose of a theme's file: the platform's templates are markup, whatever their ending. */
export function kindOfFile(theme: Theme, path: string): FileKind {
  return isTemplate(theme, path) ? 'markup' : kindOfPath(path);
}

/** The template at a path; undefined when the path is not a template, or not text. */
export function templateAt(theme: Theme, path: string): PlacedTemplate | undefined {
  const contract = theme.platform.contract.templates;
  if (contract === undefined || !isTemplate(theme, path)) return undefined;
  const source = theme.source(path);
  return source === undefined ? undefined : { theme, path, source, contract, template: readTemplate(source, contract) };
}

/** All templates of a theme. */
export function* templatesOf(theme: Theme): Generator<PlacedTemplate> {
  for (const { kind, path } of theme.tree.entries) {
    const template = kind === 'file' ? templateAt(theme, path) : undefined;
    if (template !== undefined) yield template;
  }
}

/** The kinds of names that the languages of a theme's templates have, each with the templates in which it is used. */
export function templatesByKindOfName(theme: Theme): { readonly kind: NamesContract; readonly templates: readonly PlacedTemplate[] }[] {
  const languages = new Map<TemplateContract['language'], PlacedTemplate[]>();
  for (const placed of templatesOf(theme)) {
    const language = languageAt(placed.contract, placed.path);
    const others = languages.get(language);
    if (others === undefined) languages.set(language, [placed]);
    else others.push(placed);
  }
  return [...languages].flatMap(([language, templates]) => namesOf(language).map((kind) => ({ kind, templates })));
}

/** The theme's own partials; templates of page roles do not count, wherever they lie. */
export function partialsOf(theme: Theme): { readonly path: string; readonly name: string }[] {
  const { templates } = theme.platform.contract;
  if (templates === undefined) return [];
  const roles = new Set(Object.values(templates.roles).flatMap(({ file }) => withEndings(templates, file)));
  return (theme.tree.whole ?? theme.tree).entries.flatMap(({ kind, path }) => {
    const name = kind === 'folder' || roles.has(path) || !isTemplate(theme, path) ? undefined : partialAtPath(templates, path);
    return name === undefined ? [] : [{ path, name }];
  });
}

/** The template at a path, as the chain serves it; or the one of a theme of the chain. */
function placedAt(chain: Chain, path: string, id?: string): PlacedTemplate | undefined {
  if (id === undefined) {
    const file = findInChain(chain, path);
    return file === undefined ? undefined : templateAt(file.theme, file.path);
  }
  const theme = chain.themes.find(({ names }) => names.id === id);
  return theme === undefined ? undefined : templateAt(theme, path);
}

/** A template with all that it includes or is laid into, each once, as a chain serves them. */
export function withIncluded(chain: Chain, path: string): PlacedTemplate[] {
  const first = placedAt(chain, path);
  const found = new Map(first === undefined ? [] : [[first.source, first]]);
  // A loop over a map reaches the entries that are added meanwhile.
  for (const { contract, template, path: from } of found.values()) {
    for (const name of namesIn(template)) {
      const target = templateTarget(chain, contract, name, from);
      const placed = target?.kind === 'found' ? placedAt(chain, target.path, target.id) : undefined;
      if (placed !== undefined) found.set(placed.source, placed);
    }
  }
  return [...found.values()];
}

/** What templates hold, their comments left out; without any white space when it is to be compared so. */
export function shownText(templates: readonly PlacedTemplate[]): string {
  return templates.map(({ template, source }) => textWithoutComments(template, source.text)).join('\n');
}
