import type { SourceDocument } from '../../text/source-document.ts';
import { dirname } from 'node:path';
import { CONFIGURATION_FILE, type ConfigurationLayer } from '../../configuration/configuration.ts';
import { rangeAtPath } from '../../configuration/read-configuration.ts';
import { matchesAny, matchesGlob } from '../../files/glob.ts';
import { isWithin, pathFrom } from '../../files/paths.ts';
import type { TextRange } from '../../text/edits.ts';
import type { Theme } from '../../theme/theme.ts';
import { endingOf } from '../../text/file-kinds.ts';
import { isTemplate } from '../../contents/templates.ts';

/** What `pionero.yaml` accepts. */
export interface ConfiguredAcceptance {
  readonly rule: string;
  /** A path or a glob from the theme's root; “**” also for what stands in no file. */
  readonly file: string;
  /** Globs of ids, or of paths from the configuration’s folder; all themes when left out. */
  readonly theme?: readonly string[] | undefined;
  readonly most?: number | undefined;
  readonly reason: string;
  /** The configuration file that says it, absolute, and which of its acceptances it is. */
  readonly of: Pick<ConfigurationLayer, 'file' | 'source'>;
  readonly index: number;
}

/** A statement that a finding is meant to be so, and where it stands. */
export interface Acceptance {
  readonly rule: string;
  readonly reason: string;
  /** The file that the statement stands in: one of the theme, or the configuration. */
  readonly file: string;
  readonly source?: SourceDocument | undefined;
  readonly range?: TextRange | undefined;
  /** A key of an acceptance that holds for several themes, one of which may be without the finding; undefined when it is the theme’s own. */
  readonly shared?: string | undefined;
  /** So many findings, and no more. */
  readonly most?: number | undefined;
  accepts(finding: { readonly rule: string; readonly file: string; readonly line: number }): boolean;
}

const MARK = /pionero-accept/i;
const COMMENT = /pionero-accept\s+([a-z]+\/[a-z-]+|\S+?)\s*(?::[ \t]*(.*?))?[ \t]*(?:\*\/|-->|\}\}|$)/gim;

/** Whether a text can hold a comment that accepts a finding. */
export function holdsAcceptance({ text }: SourceDocument): boolean {
  return MARK.test(text);
}

/**
 * All acceptances: comments in the theme's files, each for its own line or, alone on a line, for the next; then the configured ones.
 * @param isAsked whether a file is to be looked at
 */
export function findAcceptances(
  theme: Theme,
  configured: readonly ConfiguredAcceptance[],
  isAsked = (_file: string): boolean => true,
): Acceptance[] {
  return [
    ...inComments(theme, isAsked),
    ...configured.filter((each) => isMeant(each, theme)).map((each) => fromConfiguration(each, theme)),
  ];
}

/** Whether an acceptance is for a theme. */
function isMeant({ theme: globs, of }: ConfiguredAcceptance, { names, place }: Theme): boolean {
  const path = place === undefined ? undefined : pathFrom(dirname(of.file), place);
  return globs === undefined || matchesAny(names.id, globs) || (path !== undefined && matchesAny(path, globs));
}

function fromConfiguration(each: ConfiguredAcceptance, { place }: Theme): Acceptance {
  const isOwn = place !== undefined && isWithin(each.of.file, place);
  return {
    ...acceptanceAt(each),
    accepts: acceptsIn(each),
    file: CONFIGURATION_FILE,
    shared: isOwn ? undefined : sharedKey(each),
  };
}

/** An acceptance of a configuration, and where it stands there. */
export function acceptanceAt(each: ConfiguredAcceptance): Pick<Acceptance, 'rule' | 'reason' | 'most' | 'source' | 'range'> {
  const { rule, reason, most, of, index } = each;
  return { rule, reason, most, source: of.source, range: rangeAtPath(of.source, ['accept', index, 'rule']) };
}

/** What tells an acceptance of a configuration from all others. */
export function sharedKey({ of, index }: Pick<ConfiguredAcceptance, 'of' | 'index'>): string {
  return `${of.file} ${index}`;
}

function acceptsIn({ rule, file }: ConfiguredAcceptance): Acceptance['accepts'] {
  return (finding) => finding.rule === rule && (finding.file === file || file === '**' || matchesGlob(finding.file, file));
}

function* inComments(theme: Theme, isAsked: (file: string) => boolean): Generator<Acceptance> {
  for (const { path, kind } of theme.tree.entries) {
    const source =
      kind === 'file' && (endingOf(path).hasComments === true || isTemplate(theme, path)) && isAsked(path) ? theme.source(path) : undefined;
    if (source === undefined || !holdsAcceptance(source)) continue;
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
