import type { ChangePlan } from '../changes/plan.ts';
import { childrenOf, findEntry, plainValue, type Syntax, type WritableValue } from '../documents/syntax.ts';
import { findSyntax } from '../documents/syntaxes.ts';
import { RefusedError, UsageError } from '../errors.ts';
import { withFile } from '../files/changed-tree.ts';
import { matchesAny } from '../files/glob.ts';
import { fillShape, wholePattern } from '../names/shape.ts';
import { applyEdits } from '../text/edits.ts';
import { nearest } from '../text/nearest.ts';
import { SourceDocument } from '../text/source-document.ts';
import { findInChain } from '../theme/chain.ts';
import type { OpenedTheme } from '../theme/open.ts';
import type { Theme } from '../theme/theme.ts';
import { parentsOf, planTo } from './override.ts';
import { didYouMean, listed } from '../text/sentence.ts';

/** Entries of a parent's file that are put into the child's, where the host takes each from the nearest theme that has it. */
export interface TakenEntries {
  readonly plan: ChangePlan;
  readonly file: string;
  readonly of: string;
  readonly entries: readonly string[];
}

/**
 * Plans copies of single entries of a file that hosts merge: a catalogue, a list, a manifest. Writes nothing.
 * @param keys keys, or paths of keys with points between them
 * @throws RefusedError when the host merges no such files, or the parent has none
 * @throws UsageError when the parent’s has no such entry
 */
export function planEntries({ theme, chain, folder }: OpenedTheme, file: string, keys: readonly string[]): TakenEntries {
  const { merges } = theme.platform.contract.inheritance;
  if (!matchesAny(file, merges))
    throw new RefusedError({
      what: `${theme.platform.contract.title} does not merge ${file}: a child’s takes the place of the whole`,
      hint: merges.length === 0 ? 'leave --entry out' : `it merges ${merges.join(', ')}`,
    });
  const found = findInChain(parentsOf(chain), file);
  const source = found?.theme.source(found.path);
  if (found === undefined || source === undefined)
    throw new RefusedError({ what: `no parent of ${theme.names.id} has a ${file} that can be read` });
  const own = theme.source(file) ?? SourceDocument.decode(file, Buffer.alloc(0));
  const text = own === undefined ? undefined : withEntries(theme, file, source.text, own.text, keys);
  const bytes = text === undefined ? undefined : own?.encode(text);
  if (bytes === undefined)
    throw new RefusedError({ what: `nothing can be written into ${file} of ${theme.names.id}`, hint: 'fix it first: pionero check' });
  return {
    plan: planTo(theme, folder, withFile(theme.tree, file, bytes), `override ${file}`, [file]),
    file,
    of: found.theme.names.id,
    entries: keys,
  };
}

function withEntries(theme: Theme, file: string, theirs: string, ours: string, keys: readonly string[]): string | undefined {
  const format = formatOf(theme, file);
  if (format === undefined) return undefined;
  if (format.name === 'po')
    return keys.reduce<string>((text, key) => withMessage(file, theirs, text, key), ours === '' ? `${blocksOf(theirs)[0] ?? ''}\n` : ours);
  const { syntax, options } = format;
  const { root } = syntax.read(theirs, options);
  const begun = syntax.read(ours, options).root === undefined || ours.trim() === '' ? (syntax.begin?.(ours, options, file) ?? []) : [];
  let text = applyEdits(ours, begun);
  for (const key of keys) {
    const path = findEntry(root, [key]) === undefined ? key.split('.') : [key];
    const node = findEntry(root, path)?.value;
    if (node === undefined)
      throw noEntry(
        file,
        key,
        childrenOf(root).map((each) => each.key),
      );
    const edits = syntax.set(text, path, plainValue(node) as WritableValue, { options, order: childrenOf(root).map((each) => [each.key]) });
    text = applyEdits(text, edits);
  }
  const { problems } = syntax.read(text, options);
  return problems.length === 0 ? text : undefined;
}

interface FileFormat {
  readonly name: string;
  readonly syntax: Syntax;
  readonly options: Readonly<Record<string, unknown>>;
}

/** How a file is read: as the catalogue or the document that its platform says it is. */
function formatOf({ platform, names, documents }: Theme, file: string): FileFormat | undefined {
  const { strings } = platform.contract;
  const isTexts = strings !== undefined && wholePattern(fillShape(strings.file, names)).test(file);
  const document = documents.find(({ path }) => path === file)?.contract;
  const name = isTexts ? strings.format : document?.syntax;
  const syntax = name === undefined ? undefined : findSyntax(name);
  const options = isTexts ? { lenient: true, ...strings.options } : (document?.options ?? {});
  return name === undefined || syntax === undefined ? undefined : { name, syntax, options };
}

/** A catalogue of gettext is blocks with empty lines between them: a message is copied as it stands. */
function withMessage(file: string, theirs: string, ours: string, key: string): string {
  const idOf = (block: string): string | undefined => /^msgid ((?:"(?:[^"\\]|\\.)*"\s*)+)/m.exec(block)?.[1];
  const wanted = (block: string): boolean => unquoted(idOf(block) ?? '') === key;
  const message = blocksOf(theirs).find(wanted);
  if (message === undefined)
    throw noEntry(
      file,
      key,
      blocksOf(theirs).map((block) => unquoted(idOf(block) ?? '')),
    );
  return blocksOf(ours).some(wanted) ? ours : `${ours.trimEnd()}\n\n${message}\n`;
}

function blocksOf(text: string): string[] {
  return text
    .replaceAll('\r\n', '\n')
    .split(/\n\s*\n/)
    .map((block) => block.trim())
    .filter((block) => block !== '');
}

function unquoted(text: string): string {
  return [...text.matchAll(/"((?:[^"\\]|\\.)*)"/g)]
    .map(([, part = '']) => part.replace(/\\(["\\])/g, '$1').replaceAll('\\n', '\n'))
    .join('');
}

function noEntry(file: string, key: string, known: readonly string[]): UsageError {
  const near = nearest(key, known);
  return new UsageError({
    what: `${file} of the parent has no entry “${key}”`,
    hint: didYouMean(near, `it has ${listed(known, 8)}`),
  });
}
