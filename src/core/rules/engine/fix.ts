import type { ChangePlan } from '../../changes/plan.ts';
import { planBetween } from '../../changes/plan-between.ts';
import { SourceDocument } from '../../text/source-document.ts';
import { rangesOverlap, type TextEdit } from '../../text/edits.ts';
import { openChain } from '../../theme/chain.ts';
import { withFile, withoutFile } from '../../files/changed-tree.ts';
import type { Shelves } from '../../theme/shelf.ts';
import { Theme } from '../../theme/theme.ts';
import { checkTheme, type CheckOptions, type Finding } from './check.ts';
import type { Fix } from '../rule.ts';

export interface PlannedFix {
  readonly finding: Finding;
  readonly fix: Fix;
}

export interface PlannedFixes {
  readonly plan: ChangePlan;
  readonly fixes: readonly PlannedFix[];
  /** Fixes after which their finding was still there: they are not part of the plan. */
  readonly failed: readonly PlannedFix[];
  /** The theme as it then is, and what a check then finds. */
  readonly theme: Theme;
  readonly findings: readonly Finding[];
}

/** How fixes are planned. `isGuessing` takes in those that are likely and not sure. */
export interface FixOptions extends CheckOptions {
  readonly isGuessing?: boolean | undefined;
  /** Chooses the findings to fix; all when left out. */
  readonly choose?: ((findings: readonly Finding[]) => readonly Finding[]) | undefined;
}

/** Fixing one problem can uncover another (a misspelled field, then its value); more rounds than this it never takes. */
const MAX_ROUNDS = 8;

/** Plans the fixes of a theme, the sure ones if nothing else is asked for, until a further check would offer none. Writes nothing. */
export function planFixes(theme: Theme, shelves: Shelves, folder: string, options: FixOptions = {}): PlannedFixes {
  const done: PlannedFix[] = [];
  const failed: PlannedFix[] = [];
  const tried = new Set<string>();
  const check = (each: Theme): readonly Finding[] => checkTheme(each, openChain(each, shelves), shelves, options).findings;
  let mended = theme;
  let findings = check(mended);
  for (let round = 0; round < MAX_ROUNDS; round++) {
    // A fix that was tried once fixed nothing, or the finding came back.
    const open = (options.choose?.(findings) ?? findings).filter((finding) => !tried.has(keyOf(finding)));
    const fixes = compatibleFixes(mended, open, options.isGuessing === true);
    if (fixes.length === 0) break;
    const after = applyFixes(mended, fixes);
    const left = check(after);
    // Others may say the same of another place of the file, and stay: only their number tells.
    const [before, now] = [countKeys(findings), countKeys(left)];
    const made = countKeys(fixes.map(({ finding }) => finding));
    const without = fixes.filter(({ finding }) => {
      const key = keyOf(finding);
      return (now.get(key) ?? 0) > (before.get(key) ?? 0) - (made.get(key) ?? 0);
    });
    // One that had to wait for another one in its place comes in the next round.
    const waiting = new Set(
      open.filter((finding) => finding.fix !== undefined && !fixes.some((each) => each.finding === finding)).map(keyOf),
    );
    for (const { finding } of without.length > 0 ? without : fixes)
      if (without.length > 0 || !waiting.has(keyOf(finding))) tried.add(keyOf(finding));
    failed.push(...without);
    // Those that fixed something are made again without the others.
    if (without.length > 0) continue;
    mended = after;
    findings = left;
    done.push(...fixes);
  }
  const touched = new Set(done.flatMap(({ fix }) => [fix.file, ...(fix.steps ?? []).flatMap(({ from, to }) => [from, to])]));
  const plan = planBetween(`check --fix ${theme.names.id}`, folder, theme.asRead(touched), mended.tree, touched);
  return { plan, fixes: done, failed, theme: mended, findings };
}

/** A finding's text, wherever it stands by now: edits above it move its line. */
function keyOf({ rule, file, message }: Finding): string {
  return `${rule}\n${file}\n${message}`;
}

function countKeys(findings: readonly Finding[]): ReadonlyMap<string, number> {
  const counts = new Map<string, number>();
  for (const finding of findings) counts.set(keyOf(finding), (counts.get(keyOf(finding)) ?? 0) + 1);
  return counts;
}

/** Of two fixes that want to change the same place only the first is taken: the next round offers the other again. */
function compatibleFixes(theme: Theme, findings: readonly Finding[], isGuessing: boolean): PlannedFix[] {
  const edits = new Map<string, TextEdit[]>();
  const touched = new Set<string>();
  const fixes: PlannedFix[] = [];
  const { unlisted = [], special = [] } = theme.tree.disk ?? {};
  for (const finding of findings) {
    const { fix } = finding;
    if (fix === undefined || !(fix.isSafe || isGuessing)) continue;
    const { steps = [] } = fix;
    if (fix.edits.length + steps.length === 0) continue;
    // A folder in which something cannot be read cannot be built again.
    if (steps.some(({ op }) => op === 'move') && unlisted.length + special.length > 0) continue;
    const others = edits.get(fix.file) ?? [];
    const places = steps.flatMap(({ from, to }) => [from, to]);
    if (fix.edits.some((edit) => others.some((other) => clashes(edit, other)))) continue;
    if (places.some((place) => touched.has(place)) || (fix.edits.length > 0 && touched.has(fix.file))) continue;
    if (places.some((place) => edits.has(place))) continue;
    if (fix.edits.length > 0) edits.set(fix.file, [...others, ...fix.edits]);
    for (const place of places) touched.add(place);
    fixes.push({ finding, fix });
  }
  return fixes;
}

/** A theme with what some findings propose, also where it is not the only right answer. */
export function withProposals(theme: Theme, findings: readonly Finding[]): Theme {
  return applyFixes(theme, compatibleFixes(theme, findings, true));
}

function applyFixes(theme: Theme, fixes: readonly PlannedFix[]): Theme {
  let { tree } = theme;
  const edits = new Map<string, TextEdit[]>();
  for (const { fix } of fixes) if (fix.edits.length > 0) edits.set(fix.file, [...(edits.get(fix.file) ?? []), ...fix.edits]);
  for (const [path, own] of edits) {
    const source = tree.get(path) === undefined ? SourceDocument.decode(path, Buffer.alloc(0)) : theme.source(path);
    const bytes = source?.encode(source.withEdits(own).text);
    if (bytes !== undefined) tree = withFile(tree, path, bytes);
  }
  for (const { op, from, to } of fixes.flatMap(({ fix }) => fix.steps ?? [])) {
    tree = withFile(tree, to, tree.read(from));
    if (op === 'move') tree = withoutFile(tree, from);
  }
  return new Theme(theme.platform, tree, theme.names, theme.location);
}

function clashes(a: TextEdit, b: TextEdit): boolean {
  return rangesOverlap(a, b) || a.start === b.start;
}
