import { applyEdits } from '../text/edits.ts';
import type { WritableValue } from '../documents/syntax.ts';
import { UsageError } from '../errors.ts';
import type { FileTree } from '../files/file-tree.ts';
import { MemoryTree, type MemoryItem } from '../files/memory-tree.ts';
import type { FieldContract } from '../platform/schema.ts';
import { nearest } from '../text/nearest.ts';
import { judgeNode } from './judge-value.ts';
import { keyPath, Theme } from './theme.ts';
import { setField } from './write-field.ts';

/** What a fact is to become: text as a person types it; a list is written with commas. */
export type FactChanges = Readonly<Record<string, string>>;

/**
 * Writes facts into all documents that carry them, and returns the theme as it then is. Nothing is written to disk.
 * @throws UsageError when the platform has no such fact or its type does not allow the value
 */
export function setFacts(theme: Theme, changes: FactChanges): Theme {
  let changed = theme;
  for (const [name, typed] of Object.entries(changes)) {
    const fields = theme.documents.flatMap((document) =>
      document.contract.fields.filter((field) => field.fact === name && field.shape === undefined),
    );
    if (fields.length === 0) throw unknownFact(name, theme);
    for (const document of theme.documents.filter((each) => each.state === 'read')) {
      for (const field of document.contract.fields.filter((each) => fields.includes(each))) {
        const value = parseTyped(name, typed, field, theme);
        const current = changed.documents.find((each) => each.path === document.path);
        if (current?.source === undefined) continue;
        const text = applyEdits(current.source.text, setField(current, keyPath(field), value));
        const bytes = current.source.encode(text);
        if (bytes === undefined) throw new UsageError({ what: `“${typed}” cannot be written in the encoding of ${current.path}` });
        changed = new Theme(theme.platform, withFile(changed.tree, current.path, bytes), theme.names, theme.location);
      }
    }
  }
  return changed;
}

function unknownFact(name: string, theme: Theme): UsageError {
  const known = [...new Set(theme.platform.contract.documents.flatMap((document) => document.fields.map((field) => field.fact)))];
  const near = nearest(name, known);
  return new UsageError({
    what: `${theme.platform.contract.title} has no fact “${name}”`,
    hint: near === undefined ? `known: ${known.join(', ')}` : `did you mean “${near}”?`,
  });
}

/** @throws UsageError when the value is not of the field's type */
function parseTyped(name: string, typed: string, field: FieldContract, theme: Theme): WritableValue {
  const value: WritableValue =
    field.type === 'list'
      ? typed
          .split(',')
          .map((part) => part.trim())
          .filter((part) => part !== '')
      : field.type === 'boolean' && /^(true|false)$/.test(typed)
        ? typed === 'true'
        : field.type === 'integer' && /^\d+$/.test(typed)
          ? Number(typed)
          : typed;
  const scalar = (part: string | number | boolean) => ({ kind: 'scalar', value: part, isQuoted: true, start: 0, end: 0 }) as const;
  const node = Array.isArray(value)
    ? ({ kind: 'list', items: value.map(scalar), start: 0, end: 0 } as const)
    : scalar(value as string | number | boolean);
  const verdict = judgeNode(node, field, theme.platform);
  if (verdict === undefined) return value;
  throw new UsageError({
    what: `“${typed}” cannot be the ${name}`,
    why: `wanted: ${verdict.wanted}`,
    hint: verdict.suggestion === undefined ? undefined : `write ${verdict.suggestion}`,
  });
}

/** A tree with one file's bytes replaced or added. */
export function withFile(tree: FileTree, path: string, bytes: Buffer): FileTree {
  const items = tree.entries
    .filter((entry) => entry.path !== path)
    .map((entry): MemoryItem => {
      if (entry.kind === 'link') return { kind: 'link', path: entry.path, target: entry.target ?? '' };
      if (entry.kind === 'folder') return { kind: 'folder', path: entry.path, mode: entry.mode };
      return { kind: 'file', path: entry.path, content: { tree, path: entry.path }, size: entry.size, mode: entry.mode };
    });
  const mode = tree.get(path)?.mode ?? 0o644;
  return new MemoryTree([...items, { kind: 'file', path, content: { bytes }, size: bytes.length, mode }]);
}
