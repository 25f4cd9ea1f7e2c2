import { plainValue, findEntry } from '../documents/syntax.ts';
import { compareText } from '../files/file-tree.ts';
import { learnDocument } from './learn-documents.ts';
import type { LearnedBundles, LearnedDocument, LearnedField } from './learned.ts';
import { wholePattern } from '../names/shape.ts';
import { canBeDocument, readsOf } from './readers.ts';
import type { SampleTheme, ThemeSet } from './theme-set.ts';

/** A list field whose entries are names of documents, and where these lie. */
interface Listing {
  readonly field: LearnedField;
  readonly file: string;
  readonly count: number;
  readonly names: number;
}

/**
 * Sets of stylesheets and scripts that a list of the manifest names, each in a document of its own: `load: [menu]` and
 * `bundles/menu.yaml`. Their document is added to the others.
 */
export function learnBundles(set: ThemeSet, documents: LearnedDocument[]): LearnedBundles | undefined {
  for (const document of documents)
    for (const field of document.fields.filter(({ type, of }) => type === 'list' && of === undefined)) {
      const listing = listingOf(set, document, field);
      const own = listing === undefined ? undefined : documentOf(set, listing.file);
      if (listing === undefined || own === undefined) continue;
      const lists = own.fields.filter(({ type, of }) => type === 'list' && of === 'path');
      const sheets = lists.find(({ example }) => /\.css\b/.test(example));
      const scripts = lists.find((each) => each !== sheets && /\.m?js\b/.test(each.example));
      if (sheets === undefined && scripts === undefined) continue;
      for (const [list, fact] of [
        [sheets, 'bundleSheets'],
        [scripts, 'bundleScripts'],
      ] as const)
        if (list !== undefined) list.fact = fact;
      Object.assign(field, { of: 'bundle', why: 'names of bundles' });
      const isOne = wholePattern(own.path);
      documents.splice(0, documents.length, ...documents.filter(({ path }) => !isOne.test(path)), own);
      return { file: own.path, fact: field.fact, seen: { count: listing.count, of: listing.names } };
    }
  return undefined;
}

/** Where most entries of a list have a document of their name. */
function listingOf(set: ThemeSet, document: LearnedDocument, field: LearnedField): Listing | undefined {
  const counts = new Map<string, number>();
  let names = 0;
  for (const { theme, root } of readsOf(set, document)) {
    const node = findEntry(root, field.key)?.value;
    const plain = node === undefined ? undefined : plainValue(node);
    for (const name of Array.isArray(plain) ? plain.map(String) : []) {
      names += 1;
      for (const shape of shapesFor(theme, name)) counts.set(shape, (counts.get(shape) ?? 0) + 1);
    }
  }
  const [best] = [...counts].sort(([a, x], [b, y]) => y - x || compareText(a, b));
  // Some may be a parent’s.
  return best === undefined || best[1] < Math.max(2, names * 0.7) ? undefined : { field, file: best[0], count: best[1], names };
}

function shapesFor({ tree }: SampleTheme, name: string): string[] {
  return tree.entries.flatMap(({ path, kind }) => {
    const at = path.lastIndexOf(`/${name}.`);
    const isNamed = kind === 'file' && at > 0 && !path.slice(at + 1).includes('/') && canBeDocument(path);
    return isNamed ? [`${path.slice(0, at)}/{name}${path.slice(at + name.length + 1)}`] : [];
  });
}

/** The documents of all bundles, as one. */
function documentOf(set: ThemeSet, file: string): LearnedDocument | undefined {
  const [before = '', after = ''] = file.split('{name}');
  const texts = set.themes.flatMap((theme) =>
    theme.tree.entries.flatMap(({ path, kind }) => {
      const isBundle = kind === 'file' && path.startsWith(before) && path.endsWith(after) && !path.slice(before.length).includes('/');
      const text = isBundle ? set.text(theme, path) : undefined;
      return text === undefined ? [] : [{ theme, text }];
    }),
  );
  const found = learnDocument(set, file, texts, texts.length);
  // A bundle is there only where a theme names it.
  return found === undefined
    ? undefined
    : { ...found, required: false, seen: { count: new Set(texts.map(({ theme }) => theme)).size, of: set.size } };
}
