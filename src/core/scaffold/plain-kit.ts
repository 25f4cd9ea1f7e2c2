import { basename } from 'node:path';
import { DiskTree } from '../files/disk-tree.ts';
import { baseOf, type FileTree } from '../files/file-tree.ts';
import { readText } from '../files/read-text.ts';
import { NameFinder } from '../names/name-finder.ts';
import { wholePattern } from '../names/shape.ts';
import { splitWords } from '../names/spelling.ts';
import type { Platform } from '../platform/platform.ts';
import { keyPath } from '../theme/documents.ts';
import { recognise } from '../theme/recognise.ts';
import { Theme } from '../theme/theme.ts';
import type { Kit } from './kit.ts';
import { mapFiles } from './map-files.ts';
import { findPlaceholders, placeholderWords, statedName, type KitName } from '../contents/placeholders.ts';

/** How people keep a file from being seen by a host: endings behind its own, or a sign before its name. */
const INERT = /\.(?:txt|dist|example|sample|disabled|off|tmpl)$/i;

/**
 * Reads a folder as a kit that nobody made for Pionero: a plain folder that holds the platform's documents, under whatever
 * name, seen or kept from being seen. Undefined when it holds none.
 * @param parentFolder the folder of the parent that keeps it: its name is no placeholder
 */
export function readPlainKit(root: string, platform: Platform, from: string, parentFolder?: string): Kit | undefined {
  const disk = new DiskTree(root);
  const folder = basename(root);
  const stem = stemOf(disk, platform);
  const id = stem ?? folder;
  const tree = live(disk, platform);
  if (recognise(tree, platform, { id }).missing !== undefined) return undefined;
  const theme = new Theme(platform, tree, { id }, root);
  const summary = theme.text('summary');
  return {
    name: folder,
    title: theme.names.title ?? folder,
    about: summary ?? headOfReadme(tree) ?? '',
    isChild: true,
    parts: [],
    markers: [],
    asks: [],
    starts: {},
    theme,
    from,
    names: namesOf(theme, folder, parentFolder === undefined ? [] : [basename(parentFolder)]),
    isPlain: true,
    notForUse: reasonNotForUse(theme),
    parentFolder,
  };
}

/** What keeps a kit from use: the field that its platform has for that. */
export function reasonNotForUse({ platform, facts }: Theme): string | undefined {
  const marker = platform.contract.kits?.['not-for-use'];
  const found = facts.find((fact) => marker !== undefined && keyPath(fact.field)[0] === marker && fact.value === 'true');
  return found === undefined ? undefined : `“${marker}: true” in ${found.document.path}`;
}

/** A file's path as the host would see it: undefined when it is seen already, or the host does not look for it. */
function livePath(path: string, platform: Platform): string | undefined {
  const base = baseOf(path);
  const folder = path.slice(0, path.length - base.length);
  const patternOf = (shape: string): RegExp => wholePattern(shape.replaceAll('**', '{path}').replaceAll('*', '{path}'));
  const { documents, files, recognise: marks } = platform.contract;
  const shapes = [...documents, ...files].map((each) => patternOf(each.path));
  const all = [...shapes, ...marks.map((mark) => patternOf(mark.path))];
  const fits = (patterns: readonly RegExp[]) => (name: string) => patterns.some((shape) => shape.test(folder + name));
  if (shapes.some((shape) => shape.test(path))) return undefined;
  const tries = [
    base.replace(INERT, ''),
    base.replace(/^_/, ''),
    base.replace(/^_/, '').replace(INERT, ''),
    base.replace(/\.(?:example|sample|dist)(?=\.)/i, ''),
  ];
  const others = tries.filter((each) => each !== base);
  const name = others.find(fits(shapes)) ?? others.find(fits(all));
  return name === undefined ? undefined : folder + name;
}

/** The tree with all that a host must not see in a kit made visible. */
function live(tree: FileTree, platform: Platform): FileTree {
  return mapFiles(tree, {
    name: (base, path) => {
      const seen = tree.get(path)?.kind === 'file' ? livePath(path, platform) : undefined;
      return seen === undefined || tree.get(seen) !== undefined ? base : baseOf(seen);
    },
  });
}

/** The manifest's name; undefined where manifests are not called after their themes. */
function stemOf(tree: FileTree, platform: Platform): string | undefined {
  for (const { path: shape } of platform.contract.documents.filter(
    ({ path }) => /\{id/.test(path) && !/\{(?:name|locale|path)/.test(path),
  )) {
    const pattern = wholePattern(shape);
    for (const { path, kind } of tree.entries) {
      const id = kind === 'file' ? pattern.exec(livePath(path, platform) ?? path)?.groups?.['id'] : undefined;
      if (id !== undefined) return id;
    }
  }
  return undefined;
}

function namesOf(theme: Theme, folder: string, others: readonly string[]): KitName[] {
  const { platform, tree, names } = theme;
  const stated = (platform.contract.kits?.placeholders ?? [])
    .map((text) => statedName(text, 'the platform file'))
    .filter((name) => isIn(tree, name));
  const own =
    names.id === folder
      ? []
      : [{ text: folder, stands: 'id' as const, words: splitWords(folder), evidence: 'the kit’s folder', isSure: true }];
  const manifest = placeholderWords(names.id);
  const called =
    manifest === undefined
      ? []
      : [{ text: names.id, stands: 'id' as const, words: manifest, evidence: 'what its manifest is called', isSure: true }];
  const documents = theme.documents.filter(({ state }) => state === 'read').map(({ path }) => path);
  const known = new Set([...stated, ...own].map(keyOf));
  const found = findPlaceholders(
    tree,
    documents,
    [...others, ...platform.contract['host-names'].map((name) => name.replace('*', ''))].filter((name) => name !== ''),
  );
  const id = splitWords(names.id).join('');
  return [...stated, ...called, ...own, ...found.filter((name) => !known.has(keyOf(name)) && (name.words ?? []).join('') !== id)];
}

/** Whether a name stands anywhere in the kit. */
function isIn(tree: FileTree, { text, words }: KitName): boolean {
  const finder = words === undefined ? undefined : new NameFinder(words.join(' '));
  const holds = (each: string): boolean => (finder === undefined ? each.toLowerCase().includes(text.toLowerCase()) : finder.isIn(each));
  return tree.entries.some(({ path, kind }) => holds(baseOf(path)) || (kind === 'file' && holds(readText(tree, path)?.text ?? '')));
}

function keyOf({ words, text }: KitName): string {
  return words?.join('') ?? text.toLowerCase();
}

/** The first sentence of a readme, for people who choose. */
function headOfReadme(tree: FileTree): string | undefined {
  const readme = tree.entries.find(({ path, kind }) => kind === 'file' && /^readme(?:\.\w+)?$/i.test(path));
  const text = readme === undefined ? '' : (readText(tree, readme.path)?.text ?? '');
  const line = text.split('\n').find((each) => /^\s*[\p{L}\p{N}“"(]/u.test(each));
  return line === undefined ? undefined : (/^.{1,120}?(?:[.!?](?=\s|$)|$)/u.exec(line.trim())?.[0] ?? line.trim().slice(0, 120));
}
