import { RefusedError } from '../errors.ts';
import type { Operation } from '../changes/plan.ts';
import { baseOf, type FileEntry } from '../files/file-tree.ts';
import { MAX_TEXT_BYTES, readText } from '../files/read-text.ts';
import type { Theme } from '../theme/theme.ts';
import { isInKits } from '../platform/platform.ts';
import { contractStretches, declaredEdits, kitEdits, parentStretches } from './declared.ts';
import { isOpenDocument, openEdits } from './open-documents.ts';
import { LinkAnchor } from './links.ts';
import { analyseText, type FileAnalysis, type FileMatch } from './analyse-file.ts';
import { decisionsOn } from './decisions.ts';
import type { FileGlance } from './glance.ts';
import { weightOfFile } from '../parallel/parts.ts';
import { Workers, type WorkerTasks } from '../parallel/workers.ts';
import { analyseTexts, glanceAt, type AnalysisSetup } from './analyses.ts';
import { addDerived, type Rebuilt } from './derived.ts';
import { prepareMatching, provenBy, type Matching } from './matching.ts';
import { agreementProblems } from './agreement.ts';
import type { Breakage } from './breakage.ts';
import { foreignFiles, matchingSetup, type RenameRequest } from './rename-request.ts';
import { planMoves, type PlannedMoves } from './path-names.ts';
import { record, type Place, type RemainingPlace, type RenameEdit } from './places.ts';
import type { Reason } from './reason.ts';

export interface RenamedTree {
  /** The operations that make the renamed copy. */
  readonly operations: readonly Operation[];
  readonly moves: readonly { readonly from: string; readonly to: string }[];
  readonly edits: readonly RenameEdit[];
  readonly kept: readonly RemainingPlace[];
  readonly unsure: readonly RemainingPlace[];
  /** Files that are made from others and were made again. */
  readonly rebuilt: readonly Rebuilt[];
  /** Links that lead out of the theme, and lead to the same from where it will lie. */
  readonly anchored: readonly AnchoredLink[];
  /** What would be broken: tokens, entries, identifiers that fall apart, addresses that lead nowhere. */
  readonly broken: readonly Breakage[];
  /** Files that are as they were, and of which the sieve of the second scan knows that they hold nothing. */
  readonly clean: ReadonlySet<string>;
}

/** A link with what it said and what it will say. */
export interface AnchoredLink {
  readonly path: string;
  readonly from: string;
  readonly to: string;
}

/**
 * Plans a renamed copy of a theme. Looks only at the tree; writes nothing.
 * @throws RefusedError when two files would get the same path
 */
export function renameTree(request: RenameRequest): RenamedTree {
  const { theme, from, to } = request;
  const isBegun = request.beginning !== undefined;
  const glances = glanceAt({ tree: theme.tree, paths: filesOf(theme), from, to, isBegun });
  const plan = new TreePlan(request, glances);
  return plan.assemble(analyseTexts({ ...plan.analysis, tree: theme.tree, paths: plan.plainHits }));
}

/** The same for a theme on disk, with the help of workers where these are worth their start. */
export async function renameTreeOnDisk(request: RenameRequest): Promise<RenamedTree> {
  const { theme, from, to, jobs } = request;
  const isBegun = request.beginning !== undefined;
  const { tree } = theme;
  const root = tree.disk?.root;
  const workers = root === undefined ? undefined : Workers.worthFor(TASKS, tree.entries.length, WORTH_A_WORKER, jobs);
  if (root === undefined || workers === undefined) return renameTree(request);
  const weightOf = (path: string): number => weightOfFile(tree.get(path)?.size);
  try {
    const glances = await workers.share(
      filesOf(theme),
      weightOf,
      async (paths) => workers.run(TASKS, 'glance', { root, paths, from, to, isBegun }),
      (paths) => glanceAt({ tree, paths, from, to, isBegun }),
    );
    const plan = new TreePlan(request, glances);
    const analyses = await workers.share(
      plan.plainHits,
      weightOf,
      async (paths) => workers.run(TASKS, 'analyse', { ...plan.analysis, root, paths }),
      (paths) => analyseTexts({ ...plan.analysis, tree, paths }),
    );
    return plan.assemble(analyses);
  } finally {
    await workers.end();
  }
}

const TASKS: WorkerTasks<typeof import('./rename.tasks.ts')> = { module: 'rename.tasks.js' };

/** With fewer entries a worker takes longer to start than it saves. */
const WORTH_A_WORKER = 1500;

function filesOf({ tree }: Theme): string[] {
  return tree.entries.flatMap(({ kind, path }) => (kind === 'file' ? [path] : []));
}

/** A rename after the first look at all files: which paths move, and which texts are to be read closely. */
class TreePlan {
  readonly analysis: AnalysisSetup;
  readonly plainHits: readonly string[];
  readonly #request: RenameRequest;
  readonly #paths: PlannedMoves;
  readonly #glances: readonly FileGlance[];
  readonly #matching: Matching;

  constructor(request: RenameRequest, glances: readonly FileGlance[]) {
    const { theme, from } = request;
    assertReadable(theme, glances);
    const setup = matchingSetup(request, glances);
    const decisions = request.decisions ?? new Map<string, string | null>();
    this.#request = request;
    this.#glances = glances;
    const known = prepareMatching(setup);
    this.#paths = planMoves(theme.tree, theme.platform, from, known, decisions, foreignFiles(theme, glances, known));
    const staying = this.#paths.staying.map(({ path, kind, reason }) => ({ path, kind, reason }));
    const matching = { ...setup, staying, moved: [...this.#paths.moves] };
    this.#matching = prepareMatching(matching);
    this.analysis = { matching, decisions };
    const documents = new Set([theme, request.beginning?.former].flatMap((each) => each?.documents ?? []).map(({ path }) => path));
    this.plainHits = glances.flatMap(({ path, holds }) =>
      holds === 'hit' && !documents.has(path) && !isOpenDocument(path) && !isInKits(theme.platform, path) ? [path] : [],
    );
  }

  /** Puts the plan together. @param plain the analyzes of {@link plainHits} */
  assemble(plain: readonly FileAnalysis[]): RenamedTree {
    const isPlain = new Set(this.plainHits);
    const documents = this.#glances.filter(({ path, holds }) => holds === 'hit' && !isPlain.has(path));
    const analysed = [...documents.flatMap(({ path }) => this.#analyse(path, this.#matching)), ...plain];
    return assemble(this.#request, this.#paths, this.#matching, this.#glances, this.#withProven(analysed));
  }

  /** The proof in one place holds wherever the same identifier stands, also as the beginning of a longer one. */
  #withProven(analysed: readonly FileAnalysis[]): FileAnalysis[] {
    const { usedNames } = this.#matching;
    const proven = new Set(
      analysed.flatMap(({ matches }) =>
        matches.filter(isProof).flatMap(({ identifier }) => [identifier, usedNames.get(identifier) ?? identifier]),
      ),
    );
    const matching = { ...this.#matching, ...provenBy(proven) };
    return analysed.flatMap((each) =>
      each.matches.some(({ kind, identifier }) => kind === 'unsure' && matching.isProven(usedNames.get(identifier) ?? identifier))
        ? this.#analyse(each.path, matching)
        : [each],
    );
  }

  #analyse(path: string, matching: Matching): FileAnalysis[] {
    const { theme, from, to, beginning } = this.#request;
    const source = readText(theme.tree, path);
    if (source === undefined) return [];
    const holder = [theme, beginning?.former].find((each) => each?.documents.some((document) => document.path === path));
    const document = holder?.documents.find((each) => each.path === path);
    const declared =
      holder === undefined
        ? [...openEdits(source, from, to), ...kitEdits(theme, source, from, to)]
        : declaredEdits(holder, path, from, to, this.#paths.moves);
    const isParent = beginning?.isParent === true || (theme.parentVendor !== undefined && theme.parentVendor !== from.vendor);
    const parents = holder === undefined || !isParent ? [] : parentStretches(holder, path, from.id);
    const fixed = document === undefined ? [] : [...contractStretches(document, from, theme.tree), ...parents];
    return [analyseText(source, matching, declared, decisionsOn(path, this.analysis.decisions), fixed)];
  }
}

/** An identifier that is longer than the name, and surely the theme's. */
function isProof({ kind, identifier, found }: FileMatch): boolean {
  return kind === 'identifier' && identifier.length > found.length;
}

/** @throws RefusedError when nobody can tell what a file holds */
function assertReadable({ tree, location }: Theme, glances: readonly FileGlance[]): void {
  const unknown = glances.find(({ path, holds }) => holds === 'unknown' && tree.get(path)?.kind === 'file');
  if (unknown === undefined) return;
  throw new RefusedError({
    what: `${unknown.path} of ${location} cannot be read, so nobody knows whether it holds the name`,
    hint: 'give yourself the right to read it',
  });
}

function assemble(
  request: RenameRequest,
  { moves, staying }: PlannedMoves,
  matching: Matching,
  glances: readonly FileGlance[],
  analysed: readonly FileAnalysis[],
): RenamedTree {
  const { tree } = request.theme;
  const { analyses, rebuilt, stale } = addDerived(
    tree,
    analysed,
    glances.filter((each) => each.hasChecksums).map((each) => each.path),
  );
  const suspects = new Set(glances.filter((each) => each.isSuspect).map(({ path }) => path));
  const isRebuilt = new Set(rebuilt.map(({ path }) => path));
  const edits: RenameEdit[] = [];
  const kept: RemainingPlace[] = [];
  const unsure: RemainingPlace[] = [];
  const moved = (path: string): string => moves.get(path) ?? path;
  for (const { path, kind, reason, replacement } of staying)
    (kind === 'kept' ? kept : unsure).push({ ...nameOf(path, moved(path)), text: baseOf(path), reason, proposal: replacement });
  for (const { path, reason } of stale) unsure.push({ ...nameOf(path, moved(path)), text: baseOf(path), reason, proposal: undefined });
  for (const { path, places } of glances) {
    const isLarge = (tree.get(path)?.size ?? 0) > MAX_TEXT_BYTES;
    const reason: Reason = { code: isLarge ? 'too-large' : 'binary' };
    if (rebuilt.some((each) => each.path === path)) continue;
    for (const { offset, text } of places) {
      const at = { line: 1, column: offset + 1 };
      kept.push({ file: moved(path), ...at, identifier: text, was: { file: path, ...at }, text, reason, found: text, proposal: undefined });
    }
  }
  const anchor = new LinkAnchor(moves, tree.disk?.root, request.root);
  const anchored: AnchoredLink[] = [];
  const made = new Set<string>();
  // Two folders can become one.
  const entries = tree.entries.filter(({ kind, path }) => kind !== 'folder' || (!made.has(moved(path)) && made.add(moved(path))));
  const operations = entries.map((entry): Operation => {
    const path = moved(entry.path);
    if (entry.kind === 'folder') return { op: 'folder', path, mode: entry.mode };
    if (entry.kind === 'file') return fileOperation(entry, path, tree, analyses.get(entry.path), rebuilt);
    const { target, isAnchored } = anchor.rename(entry);
    if (isAnchored) anchored.push({ path, from: entry.target ?? '', to: target });
    if (target === entry.target && matching.pairs.some((pair) => pair.finder.isIn(target)))
      kept.push({ ...nameOf(entry.path, path), text: `→ ${target}`, reason: { code: 'fixed-link' }, proposal: undefined });
    return { op: 'link', path, target };
  });
  for (const analysis of analyses.values()) record(analysis, moved(analysis.path), { edits, kept, unsure });
  return {
    operations,
    moves: [...moves].map(([from, to]) => ({ from, to })),
    edits: edits.sort(comparePlaces),
    kept: kept.sort(comparePlaces),
    unsure: unsure.sort(comparePlaces),
    rebuilt: rebuilt.map((each) => ({ ...each, path: moved(each.path) })),
    anchored,
    broken: [...[...analyses.values()].flatMap((each) => each.broken ?? []), ...agreementProblems(analyses.values(), tree, moves)],
    clean: new Set(
      tree.entries.flatMap(({ path }) => (suspects.has(path) || analyses.has(path) || isRebuilt.has(path) ? [] : [moved(path)])),
    ),
  };
}

function nameOf(path: string, file: string) {
  const found = baseOf(path);
  return { file, line: 1, column: 1, identifier: found, was: { file: path, line: 0, column: 0 }, found, isName: true };
}

function comparePlaces(a: Place, b: Place): number {
  return a.file < b.file ? -1 : a.file > b.file ? 1 : a.line - b.line || a.column - b.column;
}

function fileOperation(
  { path: old, size, mode }: FileEntry,
  path: string,
  tree: Theme['tree'],
  analysis: FileAnalysis | undefined,
  rebuilt: readonly Rebuilt[],
): Operation {
  const made = rebuilt.find((each) => each.path === old);
  if (made !== undefined) return { op: 'create', path, content: { bytes: made.bytes }, size: made.bytes.length, mode };
  if (analysis === undefined || analysis.edits.length === 0) return { op: 'create', path, content: { tree, path: old }, size, mode };
  return { op: 'create', path, content: { tree, path: old, edits: analysis.edits }, size: analysis.size, mode };
}
