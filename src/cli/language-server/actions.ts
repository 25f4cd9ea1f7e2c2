import { CodeActionKind, type CodeAction, type Range } from 'vscode-languageserver/node';
import type { EditedFile } from '../../core/editor/editor-workspace.ts';
import type { Finding } from '../../core/rules/engine/check.ts';
import { rangesOverlap, type TextEdit } from '../../core/text/edits.ts';
import { acceptanceEdit } from './acceptance.ts';
import { fileEdit, fixEdit } from './edits.ts';
import { rangeOfFinding } from './places.ts';
import { proposedRename } from './proposals.ts';
import type { Session } from './session.ts';

/** The fixes of the findings in a part of a file, the other names that they propose, and comments that accept them. */
export function actionsIn(session: Session, file: EditedFile, range: Range): CodeAction[] {
  const findings = session.judge.findingsIn(file);
  const here = findings.filter((finding) => meets(rangeOfFinding(finding), range));
  const fixes = here.flatMap(({ fix }): CodeAction[] => {
    const edit = fix === undefined ? undefined : fixEdit(file, fix);
    return fix === undefined || edit === undefined
      ? []
      : [{ title: capital(fix.title.text), kind: CodeActionKind.QuickFix, isPreferred: fix.isSafe, edit }];
  });
  const rules = [...new Set(here.map(({ rule }) => rule))];
  const all = rules.flatMap((rule) =>
    allOfRule(
      file,
      findings.filter((finding) => finding.rule === rule),
      rule,
    ),
  );
  const accepted = here.flatMap((finding): CodeAction[] => {
    const edit = acceptanceEdit(file, finding);
    return edit === undefined ? [] : [{ title: `Accept ${finding.rule} here, with a reason`, kind: CodeActionKind.QuickFix, edit }];
  });
  const proposed = here.flatMap((finding) => proposedRename(session, file, finding) ?? []);
  return [...fixes, ...proposed, ...all, ...accepted];
}

/** Every sure fix of one rule in a file, as one change; none where there are not several. */
function allOfRule({ theme, path }: EditedFile, findings: readonly Finding[], rule: string): CodeAction[] {
  const edits: TextEdit[] = [];
  for (const { fix } of findings) {
    const isPlain = fix?.isSafe === true && fix.file === path && (fix.steps ?? []).length === 0;
    if (isPlain && !fix.edits.some((edit) => edits.some((other) => rangesOverlap(edit, other) || edit.start === other.start)))
      edits.push(...fix.edits);
  }
  const count = findings.filter(({ fix }) => fix?.isSafe === true).length;
  if (count < 2 || edits.length === 0) return [];
  return [
    { title: `Fix all ${rule} in this file`, kind: CodeActionKind.QuickFix, edit: { documentChanges: fileEdit(theme, path, edits) } },
  ];
}

function meets(a: Range, b: Range): boolean {
  const isBefore = (end: Range['end'], start: Range['start']): boolean =>
    end.line < start.line || (end.line === start.line && end.character < start.character);
  return !isBefore(a.end, b.start) && !isBefore(b.end, a.start);
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
