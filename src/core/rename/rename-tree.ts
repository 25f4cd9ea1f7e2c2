import { RefusedError } from '../errors.ts';
import type { Operation } from '../changes/plan.ts';
import { plainValue, type ValueNode } from '../documents/syntax.ts';
import { baseOf, folderOf, resolveInTree, type FileEntry, type FileTree } from '../files/file-tree.ts';
import { fillShape } from '../names/shape.ts';
import type { TextEdit } from '../text/edits.ts';
import { MAX_TEXT_BYTES, readText } from '../files/read-text.ts';
import { keyPath, type Fact } from '../theme/documents.ts';
import { type Theme } from '../theme/theme.ts';
import { setField } from '../theme/write-field.ts';
import { analyseText, decisionsOn, type Decisions, type FileAnalysis, type FileGlance } from './analyse-file.ts';
import { Helper, type HelperTasks } from '../parallel/helper.ts';
import { analyseTexts, glanceAt, type AnalysisSetup } from './analyses.ts';
import { addDerived, type Rebuilt } from './derived.ts';
import { identifierShapes, prepareMatching, type Matching, type MatchingSetup } from './matching.ts';
import type { FullName } from '../names/full-name.ts';
import { planMoves, type PlannedMoves } from './path-names.ts';
import { record, type Place, type RemainingPlace, type RenameEdit } from './places.ts';
import type { Reason } from './reason.ts';

export interface RenameRequest {
  readonly theme: Theme;
  readonly from: FullName;
  readonly to: FullName;
  /** Other themes' ids and titles that may contain the old name. */
  readonly otherThemes: readonly string[];
  /** Texts or files in which the old name stays. */
  readonly keep: readonly string[];
  /** Groups of places, or texts, that are changed although they would stay. */
  readonly include?: readonly string[] | undefined;
  /** What was decided on single places of the old tree. */
  readonly decisions?: Decisions | undefined;
}

export interface RenamedTree {
  /** The operations that make the renamed copy. */
  readonly operations: readonly Operation[];
  readonly moves: readonly { readonly from: string; readonly to: string }[];
  readonly edits: readonly RenameEdit[];
  readonly kept: readonly RemainingPlace[];
  readonly unsure: readonly RemainingPlace[];
  /** Files that are made from others and were made anew. */
  readonly rebuilt: readonly Rebuilt[];
}

/**
 * Plans a renamed copy of a theme. Looks only at the tree; writes nothing.
 * @throws RefusedError when two files would get the same path
 */
export function renameTree(request: RenameRequest): RenamedTree {
  const { theme, from, to } = request;
  const glances = glanceAt({ tree: theme.tree, paths: filesOf(theme), from, to });
  const plan = new TreePlan(request, glances);
  return plan.assemble(analyseTexts({ ...plan.analysis, tree: theme.tree, paths: plan.plainHits }));
}

/** The same for a theme on disk, with the help of another thread where that is worth its start. */
export async function renameTreeOnDisk(request: RenameRequest): Promise<RenamedTree> {
  const { theme, from, to } = request;
  const { tree } = theme;
  const root = tree.disk?.root;
  const helper = root !== undefined && tree.entries.length >= WORTH_A_THREAD ? Helper.start() : undefined;
  if (root === undefined || helper === undefined) return renameTree(request);
  try {
    const glances = await inTwo(tree, filesOf(theme), (paths, isOurs) =>
      isOurs ? glanceAt({ tree, paths, from, to }) : helper.run(TASKS, 'glance', { root, paths, from, to }),
    );
    const plan = new TreePlan(request, glances);
    const analyses = await inTwo(tree, plan.plainHits, (paths, isOurs) =>
      isOurs ? analyseTexts({ ...plan.analysis, tree, paths }) : helper.run(TASKS, 'analyse', { ...plan.analysis, root, paths }),
    );
    return plan.assemble(analyses);
  } finally {
    await helper.stop();
  }
}

const TASKS: HelperTasks<typeof import('./rename.tasks.ts')> = { module: 'rename.tasks.js' };

/** With fewer entries a second thread takes longer to start than it saves. */
const WORTH_A_THREAD = 1500;

function filesOf({ tree }: Theme): string[] {
  return tree.entries.flatMap(({ kind, path }) => (kind === 'file' ? [path] : []));
}

/** Does work on the first half of the files (by bytes) elsewhere and on the second here, at the same time. */
async function inTwo<T>(
  tree: FileTree,
  paths: readonly string[],
  work: (paths: readonly string[], isOurs: boolean) => T[] | Promise<T[]>,
): Promise<T[]> {
  // Opening a file costs about as much as reading some thousand bytes of it.
  const weights = paths.map((path) => 4000 + (tree.get(path)?.size ?? 0));
  const half = weights.reduce((sum, weight) => sum + weight, 0) / 2;
  let split = 0;
  for (let sum = 0; split < paths.length && sum < half; split++) sum += weights[split] ?? 0;
  const theirs = work(paths.slice(0, split), false);
  const ours = await work(paths.slice(split), true);
  return [...(await theirs), ...ours];
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
    const setup = setUp(request, glances);
    const decisions = request.decisions ?? new Map<string, string | null>();
    this.#request = request;
    this.#glances = glances;
    this.#paths = planMoves(theme.tree, theme.platform, from, prepareMatching(setup), decisions);
    const matching = { ...setup, moved: [...this.#paths.moves.keys()] };
    this.#matching = prepareMatching(matching);
    this.analysis = { matching, decisions };
    const documents = new Set(theme.documents.map((document) => document.path));
    this.plainHits = glances.flatMap(({ path, holds }) => (holds === 'hit' && !documents.has(path) ? [path] : []));
  }

  /** Puts the plan together. @param plain the analyses of {@link plainHits} */
  assemble(plain: readonly FileAnalysis[]): RenamedTree {
    const { theme } = this.#request;
    const isPlain = new Set(this.plainHits);
    const documents = this.#glances.filter(({ path, holds }) => holds === 'hit' && !isPlain.has(path));
    const analysed = documents.flatMap(({ path }): FileAnalysis[] => {
      const source = readText(theme.tree, path);
      if (source === undefined) return [];
      const declared = declaredEdits(theme, path, this.#request);
      return [analyseText(source, this.#matching, declared, decisionsOn(path, this.analysis.decisions))];
    });
    return assemble(this.#request, this.#paths, this.#matching, this.#glances, [...analysed, ...plain]);
  }
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

function setUp({ theme, from, to, otherThemes, keep, include = [] }: RenameRequest, glances: readonly FileGlance[]): MatchingSetup {
  const author = theme.text('author');
  const person = author?.replace(/\s*[<(].*$/, '');
  return {
    from,
    to,
    others: [
      ...otherThemes.map((name) => ({ name, code: 'other-theme' as const })),
      ...(person === undefined ? [] : [{ name: person, code: 'person' as const }]),
    ],
    otherThemes,
    author,
    keep,
    include,
    shapes: identifierShapes(theme.platform, from),
    hostNames: theme.platform.contract['host-names'],
    moved: [],
    binaryPaths: glances.flatMap((each) => each.paths).filter((path) => theme.tree.get(path.replace(/^[./]+/, '')) === undefined),
  };
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
      kept.push({ file: moved(path), ...at, was: { file: path, ...at }, text, reason, found: text, proposal: undefined });
    }
  }
  const operations = tree.entries.map((entry): Operation => {
    const path = moved(entry.path);
    if (entry.kind === 'folder') return { op: 'folder', path, mode: entry.mode };
    if (entry.kind === 'file') return fileOperation(entry, path, tree, analyses.get(entry.path), rebuilt);
    const target = renameTarget(entry, moves);
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
  };
}

function nameOf(path: string, file: string) {
  return { file, line: 1, column: 1, was: { file: path, line: 0, column: 0 }, found: baseOf(path), isName: true };
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

/** A link's target inside the theme follows what moved; one that leaves the theme stays. */
function renameTarget(link: FileEntry, moves: ReadonlyMap<string, string>): string {
  const target = link.target ?? '';
  const path = target.startsWith('/') ? undefined : resolveInTree(folderOf(link.path), target);
  const moved = path === undefined ? undefined : moves.get(path);
  if (path === undefined || moved === undefined) return target;
  // The tail of the target is the tail of the path it resolves to; `../` before it stays as written.
  const climb = /^(?:\.{1,2}\/)*/.exec(target)?.[0] ?? '';
  const depth = target.slice(climb.length).split('/').length;
  return climb + moved.split('/').slice(-depth).join('/');
}

/** Edits that write the new names into the fields that declare them, as the document's syntax wants it. */
function declaredEdits(theme: Theme, path: string, { from, to }: RenameRequest): TextEdit[] {
  const done = new Set<ValueNode>();
  return theme.facts.flatMap((fact) => {
    // A value with a shape carries several facts, and is written once.
    if (fact.document.path !== path || done.has(fact.node)) return [];
    const wanted = declaredValue(fact, from, to);
    if (wanted === undefined || wanted === plainValue(fact.node)) return [];
    done.add(fact.node);
    // What a syntax cannot hold stays as it is: the second scan, and the proof by check, find it there.
    return setField(fact.document, keyPath(fact.field), wanted) ?? [];
  });
}

/** What a field must say after the rename; undefined when it says nothing of the theme's names. */
function declaredValue({ name, value, field }: Fact, from: FullName, to: FullName): string | undefined {
  const isName = name === 'id' || name === 'title' || name === 'vendor';
  if (!isName || value !== from[name]) return undefined;
  return field.shape === undefined ? to[name] : fillShape(field.shape, to);
}
