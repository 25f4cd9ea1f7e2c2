import { join } from 'node:path';
import { withFile } from '../files/changed-tree.ts';
import type { FileTree } from '../files/file-tree.ts';
import { readText } from '../files/read-text.ts';
import type { Platform } from '../platform/platform.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { factsOf, readThemeDocuments, type Fact, type ThemeDocument } from './documents.ts';
import { withConditionsMet } from './conditions.ts';
import { isOneFile } from './place.ts';
import type { ThemeNames } from '../names/full-name.ts';
import { wholePattern } from '../names/shape.ts';

/** Beyond this, texts are read again when they are asked for again. */
const MAX_KEPT_CHARACTERS = 16_000_000;

/** A theme: its files, its documents, and the facts that they carry. */
export class Theme {
  readonly platform: Platform;
  readonly tree: FileTree;
  readonly names: ThemeNames;
  readonly documents: readonly ThemeDocument[];
  readonly facts: readonly Fact[];
  /** Where it lies, as messages name it. */
  readonly location: string;
  readonly #texts = new Map<string, SourceDocument | undefined>();
  readonly #below: Theme | undefined;
  #kept = 0;

  /** @param below the theme that has the files which are the same entries of both trees */
  constructor(platform: Platform, tree: FileTree, place: ThemeNames, location: string, below?: Theme) {
    this.#below = below;
    this.platform = platform;
    this.tree = tree;
    this.location = location;
    const read = platform.contract.documents.flatMap((contract) => readThemeDocuments(tree, contract, place));
    const said = read.flatMap(factsOf);
    this.documents = withConditionsMet(read, said);
    this.facts = this.documents === read ? said : this.documents.flatMap(factsOf);
    this.names = { ...place, title: this.text('title') };
  }

  /** The theme with another tree, whose entries of the same identity hold the same: what was read of them is not read again. */
  over(tree: FileTree): Theme {
    return new Theme(this.platform, tree, this.names, this.location, this);
  }

  /** Its place on disk: its folder, or the file that it is; undefined for a theme in memory or in an archive. */
  get place(): string | undefined {
    const { disk, entries } = this.tree;
    const [only] = disk !== undefined && isOneFile(this.platform) ? entries : [];
    return disk === undefined || only === undefined ? disk?.root : join(disk.root, only.path);
  }

  /** The ids of the parents, nearest first; none for a theme that stands alone. */
  get parents(): readonly string[] {
    const { inheritance } = this.platform.contract;
    const stating = this.fact(inheritance.fact);
    // Where themes have no parents, a text that is called so means something else.
    const isMeant = inheritance.kind !== 'none' || ['parent', 'theme'].includes(stating?.field.of ?? stating?.field.type ?? '');
    const fact = isMeant ? stating : undefined;
    const named = typeof fact?.value === 'string' ? [fact.value] : Array.isArray(fact?.value) ? (fact.value as readonly string[]) : [];
    const shape = fact?.field.type === 'theme' || fact?.field.of === 'theme' ? fact.field.shape : undefined;
    const stated = named.filter((id) => id !== '' && id !== fact?.field.none);
    return shape === undefined ? stated : stated.map((text) => wholePattern(shape).exec(text)?.groups?.['id'] ?? text);
  }

  /** The ids of the themes that it builds on: the parents, and the one that ends every chain unasked where the host brings its files. */
  get ancestors(): readonly string[] {
    const { 'always-last': last, 'built-in-files': files } = this.platform.contract.inheritance;
    const isUnasked = last !== undefined && files[last] !== undefined && last !== this.names.id && !this.parents.includes(last);
    return isUnasked ? [...this.parents, last] : this.parents;
  }

  /** The vendor of the parents, on platforms that name it. */
  get parentVendor(): string | undefined {
    const fact = this.platform.contract.inheritance['vendor-fact'];
    return fact === undefined ? undefined : this.text(fact);
  }

  get isChild(): boolean {
    const { 'built-in': builtIn, 'built-in-files': files } = this.platform.contract.inheritance;
    return this.ancestors.some((id) => !builtIn.includes(id) || files[id] !== undefined);
  }

  /** The releases of the host that it says it is for, as a range; a list of them is a range with alternatives. */
  get hosts(): string | undefined {
    const value = this.fact('hosts')?.value;
    return typeof value === 'string' ? value : Array.isArray(value) ? (value as readonly string[]).join(' || ') : undefined;
  }

  /** The first document's fact of that name. */
  fact(name: string): Fact | undefined {
    return this.facts.find((fact) => fact.name === name);
  }

  /** A fact's value as text; undefined when it is not there, or is a list or map. */
  text(name: string): string | undefined {
    const value = this.fact(name)?.value;
    return typeof value === 'string' ? value : undefined;
  }

  /**
   * A file as text; undefined when it is binary, too large, not there or cannot be read (the rules for files say so).
   * Read once and kept, as far as memory is cheaper than reading again.
   */
  source(path: string): SourceDocument | undefined {
    if (this.#texts.has(path)) return this.#texts.get(path);
    const entry = this.tree.get(path);
    if (entry?.kind === 'file' && this.#below?.tree.get(path) === entry) return this.#below.source(path);
    const source = readText(this.tree, path);
    this.#kept += source?.text.length ?? 0;
    if (this.#kept <= MAX_KEPT_CHARACTERS) this.#texts.set(path, source);
    return source;
  }

  /**
   * The tree with these files as they were when they were judged: a plan must find these on disk. Read again, they would hold
   * the changes of others since, and be written over.
   */
  asRead(paths: ReadonlySet<string>): FileTree {
    return [...paths].reduce((tree, path) => {
      const source = this.documents.find((document) => document.path === path)?.source ?? this.source(path);
      return source === undefined || tree.get(path) === undefined ? tree : withFile(tree, path, source.original);
    }, this.tree);
  }
}
