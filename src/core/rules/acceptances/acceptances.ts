import type { SourceDocument } from '../../text/source-document.ts';
import { matchesGlob } from '../../files/glob.ts';
import type { TextRange } from '../../text/edits.ts';
import type { Theme } from '../../theme/theme.ts';
import { endingOf } from '../../text/file-kinds.ts';
import { isTemplate } from '../../contents/templates.ts';

/** What `pionero.yaml` accepts. */
export interface ConfiguredAcceptance {
  readonly rule: string;
  /** A path or a glob from the theme's root. */
  readonly file: string;
  readonly reason: string;
  /** Whether it is said for several themes: one of them may be without the finding. */
  readonly isShared?: boolean | undefined;
}

/** A statement that a finding is meant to be so, and where it stands. */
export interface Acceptance {
  readonly rule: string;
  readonly reason: string;
  /** The file that the statement stands in: one of the theme, or the configuration. */
  readonly file: string;
  readonly source?: SourceDocument | undefined;
  readonly range?: TextRange | undefined;
  readonly isShared?: boolean | undefined;
  accepts(finding: { readonly rule: string; readonly file: string; readonly line: number }): boolean;
}

const MARK = /pionero-accept/i;
const COMMENT = /pionero-accept\s+([a-z]+\/[a-z-]+|\S+?)\s*(?::[ \t]*(.*?))?[ \t]*(?:\*\/|-->|\}\}|$)/gim;

/**
 * All acceptances: comments in the theme's files, each for its own line or, alone on a line, for the next; then the configured ones.
 * @param isAsked whether a file is to be looked at
 */
export function findAcceptances(
  theme: Theme,
  configured: readonly ConfiguredAcceptance[],
  isAsked = (_file: string): boolean => true,
): Acceptance[] {
  return [...inComments(theme, isAsked), ...configured.map((each) => ({ ...each, accepts: acceptsIn(each), file: 'pionero.yaml' }))];
}

function acceptsIn({ rule, file }: ConfiguredAcceptance): Acceptance['accepts'] {
  return (finding) => finding.rule === rule && (finding.file === file || matchesGlob(finding.file, file));
}

function* inComments(theme: Theme, isAsked: (file: string) => boolean): Generator<Acceptance> {
  for (const { path, kind } of theme.tree.entries) {
    const source =
      kind === 'file' && (endingOf(path).hasComments === true || isTemplate(theme, path)) && isAsked(path) ? theme.source(path) : undefined;
    if (source === undefined || !MARK.test(source.text)) continue;
    for (const match of source.text.matchAll(COMMENT)) {
      const [whole, rule = '', reason = ''] = match;
      const range = { start: match.index, end: match.index + whole.trimEnd().length };
      const { line } = source.positionAt(match.index);
      const isAlone = !/[^\s/*#;<!{-]/.test(source.lineAt(line).replace(whole, ''));
      const lines = isAlone ? [line, nextLine(source, line)] : [line];
      yield {
        rule: rule.toLowerCase(),
        reason: reason.trim(),
        file: path,
        source,
        range,
        accepts: (finding) =>
          finding.rule === rule.toLowerCase() && finding.file === path && lines.includes(finding.line) && reason.trim() !== '',
      };
    }
  }
}

/** The next line with something on it. */
function nextLine(source: SourceDocument, line: number): number {
  const last = source.positionAt(source.text.length).line;
  let next = line + 1;
  while (next < last && source.lineAt(next).trim() === '') next++;
  return next;
}
