import type { ChangePlan, Operation } from '../changes/plan.ts';
import { compareText } from '../files/file-tree.ts';
import { rangesOverlap, type TextEdit } from '../text/edits.ts';
import { openChain } from '../theme/chain.ts';
import { withFile } from '../theme/set-facts.ts';
import type { Shelves } from '../theme/shelf.ts';
import { Theme } from '../theme/theme.ts';
import { checkTheme, type CheckOptions, type Finding } from './check.ts';
import type { Fix } from './rule.ts';

export interface PlannedFix {
  readonly finding: Finding;
  readonly fix: Fix;
}

export interface PlannedFixes {
  readonly plan: ChangePlan;
  readonly fixes: readonly PlannedFix[];
  /** Fixes after which their finding was still there: they are not part of the plan. */
  readonly failed: readonly PlannedFix[];
}

/** How fixes are planned. `isGuessing` takes in those that are likely and not sure. */
export interface FixOptions extends CheckOptions {
  readonly isGuessing?: boolean | undefined;
}

/** Mending one thing can uncover another (a misspelt field, then its value); more rounds than this it never takes. */
const MAX_ROUNDS = 8;

/** Plans the fixes of a theme, the sure ones if nothing else is asked for, until a further check would offer none. Writes nothing. */
export function planFixes(theme: Theme, shelves: Shelves, folder: string, options: FixOptions): PlannedFixes {
  const done: PlannedFix[] = [];
  const failed: PlannedFix[] = [];
  const tried = new Set<string>();
  const check = (each: Theme): readonly Finding[] => checkTheme(each, openChain(each, shelves), shelves, options).findings;
  let mended = theme;
  let findings = check(mended);
  for (let round = 0; round < MAX_ROUNDS; round++) {
    // What was tried once mended nothing, or came back.
    const open = findings.filter((finding) => !tried.has(keyOf(finding)));
    const { fixes, edits } = compatibleFixes(open, options.isGuessing === true);
    if (fixes.length === 0) break;
    const after = applyFixes(mended, edits);
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
    // Those that mended something are made again without the others.
    if (without.length > 0) continue;
    mended = after;
    findings = left;
    done.push(...fixes);
  }
  const files = [...new Set(done.map(({ fix }) => fix.file))].sort(compareText);
  const operations = files.map((path): Operation => {
    const before = theme.source(path)?.original ?? theme.tree.read(path);
    return { op: 'edit', path, before, bytes: mended.tree.read(path) };
  });
  return { plan: { title: `check --fix ${theme.names.id}`, root: folder, isNewRoot: false, operations }, fixes: done, failed };
}

/** What a finding says, wherever it stands by now: edits above it move its line. */
function keyOf({ rule, file, message }: Finding): string {
  return `${rule}\n${file}\n${message}`;
}

function countKeys(findings: readonly Finding[]): ReadonlyMap<string, number> {
  const counts = new Map<string, number>();
  for (const finding of findings) counts.set(keyOf(finding), (counts.get(keyOf(finding)) ?? 0) + 1);
  return counts;
}

/** Of two fixes that want to change the same place only the first is taken: the next round offers the other again. */
function compatibleFixes(findings: readonly Finding[], isGuessing: boolean): { fixes: PlannedFix[]; edits: Map<string, TextEdit[]> } {
  const edits = new Map<string, TextEdit[]>();
  const fixes: PlannedFix[] = [];
  for (const finding of findings) {
    const { fix } = finding;
    if (fix === undefined || !(fix.isSafe || isGuessing) || fix.edits.length === 0) continue;
    const others = edits.get(fix.file) ?? [];
    if (fix.edits.some((edit) => others.some((other) => clashes(edit, other)))) continue;
    edits.set(fix.file, [...others, ...fix.edits]);
    fixes.push({ finding, fix });
  }
  return { fixes, edits };
}

function applyFixes(theme: Theme, edits: ReadonlyMap<string, TextEdit[]>): Theme {
  let { tree } = theme;
  for (const [path, own] of edits) {
    const source = theme.source(path);
    const bytes = source?.encode(source.withEdits(own).text);
    if (bytes !== undefined) tree = withFile(tree, path, bytes);
  }
  return new Theme(theme.platform, tree, theme.names, theme.location);
}

function clashes(a: TextEdit, b: TextEdit): boolean {
  return rangesOverlap(a, b) || a.start === b.start;
}
