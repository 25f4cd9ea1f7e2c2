import { shapePattern, wholePattern } from '../names/shape.ts';
import { searchTemplate } from '../templates/template-index.ts';
import type { TextRange } from '../text/edits.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { withFile } from '../files/changed-tree.ts';
import { templatesOf } from './templates.ts';
import { Theme } from '../theme/theme.ts';

/** A place in a template that names another theme. Offsets are 0-based, of the name. */
export interface ParentMention extends TextRange {
  readonly id: string;
  readonly file: string;
  readonly source: SourceDocument;
}

/** Where a theme’s templates name other themes, besides its manifest: in front of a path, or as the platform says (`parent-named`). */
export function parentMentions(theme: Theme): ParentMention[] {
  const { templates } = theme.platform.contract;
  if (templates === undefined) return [];
  const shapes = templates['parent-named'].map((shape) => shapePattern(shape));
  const named = templates['named-theme'] === undefined ? undefined : wholePattern(templates['named-theme']);
  return [...templatesOf(theme)].flatMap(({ path: file, source, template }) => {
    const inTags = [...template.includes, ...template.extends].flatMap(({ name, nameStart }): ParentMention[] => {
      const id = named?.exec(name)?.groups?.['id'];
      // A folder of the theme's own can stand before a slash as well.
      if (id === undefined || theme.tree.get(id)?.kind === 'folder') return [];
      const start = nameStart + name.indexOf(id);
      return [{ id, file, source, start, end: start + id.length }];
    });
    const elsewhere = shapes.flatMap((pattern) =>
      [...searchTemplate(template, source.text, pattern)].map((match): ParentMention => {
        const id = match.groups?.['id'] ?? '';
        const start = match.index + match[0].lastIndexOf(id);
        return { id, file, source, start, end: start + id.length };
      }),
    );
    return [...inTags, ...elsewhere];
  });
}

/** The theme with another parent in its templates too, where one was put in the place of another. Nothing is written to disk. */
export function withParentNamed(theme: Theme, before: readonly string[]): Theme {
  const gone = before.filter((id) => !theme.parents.includes(id));
  const [come, ...more] = theme.parents.filter((id) => !before.includes(id));
  if (gone.length !== 1 || come === undefined || more.length > 0) return theme;
  const mentions = parentMentions(theme).filter(({ id }) => gone.includes(id));
  let { tree } = theme;
  for (const { file, source } of new Map(mentions.map((mention) => [mention.file, mention])).values()) {
    const own = mentions.filter((mention) => mention.file === file);
    const { text } = source.withEdits(own.map(({ start, end }) => ({ start, end, text: come })));
    const bytes = source.encode(text);
    if (bytes !== undefined) tree = withFile(tree, file, bytes);
  }
  return tree === theme.tree ? theme : new Theme(theme.platform, tree, theme.names, theme.location);
}
