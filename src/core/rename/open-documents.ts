import { plainValue, type MapNode, type ValueNode } from '../documents/syntax.ts';
import { findSyntax } from '../documents/syntaxes.ts';
import { folderOf, type FileTree } from '../files/file-tree.ts';
import { readText } from '../files/read-text.ts';
import { spokenId, type FullName } from '../names/full-name.ts';
import { NameFinder } from '../names/name-finder.ts';
import { isInThirdPartyFolder } from '../text/file-kinds.ts';
import type { TextEdit } from '../text/edits.ts';
import type { SourceDocument } from '../text/source-document.ts';

/** Documents of open standards that a theme may have beside those of its platform, and where they say its name. */
interface OpenDocument {
  readonly file: RegExp;
  readonly syntax: 'json' | 'yaml' | 'toml';
  /** Paths of keys; `*` stands for every entry of a list. */
  readonly names: readonly (readonly string[])[];
}

/** Packages of several registries. */
const PACKAGE = /(^|\/)(?:package|bower|composer|component)\.json$/;

const OPEN_DOCUMENTS: readonly OpenDocument[] = [
  { file: PACKAGE, syntax: 'json', names: [['name'], ['title'], ['displayName']] },
  {
    file: /(^|\/)(?:pyproject|Cargo)\.toml$/,
    syntax: 'toml',
    names: [
      ['project', 'name'],
      ['package', 'name'],
    ],
  },
  // W3C Web Application Manifest, 1.8 and 1.9.
  { file: /(^|\/)(?:manifest\.json|[\w.-]+\.webmanifest)$/, syntax: 'json', names: [['name'], ['short_name'], ['id']] },
  // Citation File Format 1.2; CodeMeta 3.0; funding.json 1.0.
  { file: /(^|\/)CITATION\.cff$/, syntax: 'yaml', names: [['title'], ['preferred-citation', 'title']] },
  { file: /(^|\/)codemeta\.json$/, syntax: 'json', names: [['name'], ['identifier']] },
  {
    file: /(^|\/)funding\.json$/,
    syntax: 'json',
    names: [
      ['projects', '*', 'name'],
      ['projects', '*', 'guid'],
    ],
  },
  { file: /(^|\/)publiccode\.ya?ml$/, syntax: 'yaml', names: [['name']] },
];

/** Whether a file declares names by an open standard. */
export function isOpenDocument(path: string): boolean {
  return OPEN_DOCUMENTS.some(({ file }) => file.test(path));
}

/** The folders of a theme that say by such a document that they are a package of another name. */
export function packagesIn(tree: FileTree, from: FullName): string[] {
  const own = new NameFinder(spokenId(from));
  return tree.entries.flatMap(({ kind, path }) => {
    const folder = folderOf(path);
    if (kind !== 'file' || folder === '' || !PACKAGE.test(path)) return [];
    const root = findSyntax('json')?.read(readText(tree, path)?.text ?? '', { lenient: true }).root;
    const name = root === undefined ? undefined : nodesAt(root, ['name'])[0];
    const said = name === undefined ? undefined : plainValue(name);
    return typeof said === 'string' && said !== '' && !own.isIn(said) ? [folder] : [];
  });
}

/** The names of packages that the theme's own documents declare; a lock file repeats them. */
export function packageNames(tree: FileTree): ReadonlySet<string> {
  const names = tree.entries.flatMap(({ kind, path }) => {
    const document = kind === 'file' && !isInThirdPartyFolder(path) ? OPEN_DOCUMENTS.find((each) => each.file.test(path)) : undefined;
    const root = document === undefined ? undefined : rootOf(document, readText(tree, path)?.text ?? '');
    return document === undefined || root === undefined ? [] : document.names.flatMap((at) => nodesAt(root, at).map(plainValue));
  });
  return new Set(names.filter((name) => typeof name === 'string'));
}

function rootOf({ syntax }: OpenDocument, text: string): MapNode | undefined {
  return findSyntax(syntax)?.read(text, { lenient: true }).root;
}

/** Edits that write the new names where such a document says the old ones; none where it cannot be read. */
export function openEdits({ file, text }: SourceDocument, from: FullName, to: FullName): TextEdit[] {
  const document = OPEN_DOCUMENTS.find((each) => each.file.test(file));
  const root = document === undefined ? undefined : rootOf(document, text);
  if (document === undefined || root === undefined) return [];
  const said = new Map([
    [from.title, to.title],
    [from.id, to.id],
    ...(from.vendor === undefined ? [] : [[`${from.vendor}/${from.id}`, `${to.vendor ?? from.vendor}/${to.id}`] as const]),
  ]);
  return document.names.flatMap((path) =>
    nodesAt(root, path).flatMap((node): TextEdit[] => {
      const value = plainValue(node);
      const now = typeof value === 'string' ? said.get(value) : undefined;
      if (now === undefined || now === value || node.kind !== 'scalar') return [];
      const written = text.slice(node.start, node.end);
      const quote = /^["']/.exec(written)?.[0] ?? '';
      const isPlain = /^[\p{L}\p{N}\p{M} _.-]+$/u.test(now);
      return [{ start: node.start, end: node.end, text: quote === '' && isPlain ? now : JSON.stringify(now) }];
    }),
  );
}

function nodesAt(node: ValueNode | MapNode, [key, ...rest]: readonly string[]): ValueNode[] {
  if (key === undefined) return [node];
  if (node.kind === 'list') return key === '*' ? node.items.flatMap((item) => nodesAt(item, rest)) : [];
  if (node.kind !== 'map') return [];
  return node.entries.filter((entry) => entry.key === key).flatMap(({ value }) => nodesAt(value, rest));
}
