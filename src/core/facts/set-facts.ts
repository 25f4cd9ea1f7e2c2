import { fillShape, wholePattern } from '../names/shape.ts';
import type { WritableValue } from '../documents/syntax.ts';
import { RefusedError, UsageError } from '../errors.ts';
import { withFile } from '../files/changed-tree.ts';
import { isNeeded } from '../platform/platform.ts';
import { beginDocument, canBegin, proposedValue } from './begin-document.ts';
import type { FieldContract } from '../platform/schema.ts';
import { applyEdits } from '../text/edits.ts';
import { nearest } from '../text/nearest.ts';
import { isOneOfMany, isSameField, isSound, keyPath } from '../theme/documents.ts';
import { judgeNode } from './judge-value.ts';
import { Theme } from '../theme/theme.ts';
import { licenseFiles } from '../contents/third-party.ts';
import { changelogOf } from '../contents/changelog.ts';
import { parentMentions, withParentNamed } from '../contents/parent-mentions.ts';
import { setField } from './write-field.ts';
import { didYouMean } from '../text/sentence.ts';

/** A change of a fact. The value is text as a person types it; a list is written with commas. */
export interface FactChange {
  readonly fact: string;
  readonly op: 'set' | 'add' | 'remove';
  readonly value: string;
}

export function typedChanges(values: Readonly<Record<string, string>>): FactChange[] {
  return Object.entries(values).map(([fact, value]) => ({ fact, op: 'set', value }));
}

/**
 * Writes facts into all documents that carry them, and returns the theme as it then is. Nothing is written to disk.
 * @throws UsageError when the platform has no such fact, its type does not allow the value, or the syntax cannot hold it
 */
export function setFacts(theme: Theme, changes: readonly FactChange[]): Theme {
  return withParentNamed(changes.reduce(setFact, withBegunDocuments(theme, changes)), theme.parents);
}

/**
 * Begins the documents that the facts belong into and that are not there, where every theme must have them.
 * @throws RefusedError when they must say more than was given and can be derived
 */
function withBegunDocuments(theme: Theme, changes: readonly FactChange[]): Theme {
  let changed = theme;
  for (const document of theme.documents) {
    const { contract } = document;
    const own = changes.filter(({ fact, op }) => op !== 'remove' && contract.fields.some((field) => field.fact === fact));
    if (own.length === 0 || !isNeeded(contract.required, theme.isChild) || !canBegin(theme, document)) continue;
    const given = Object.fromEntries(
      contract.fields.flatMap((field) => {
        const change = own.find(({ fact }) => fact === field.fact);
        return change === undefined ? [] : [[field.fact, parseTyped({ ...change, op: 'set' }, field, theme)]];
      }),
    );
    const begun = beginDocument(changed, document, given);
    if (begun === undefined) continue;
    const guessed = begun.fields.filter((field) => given[field.fact] === undefined && proposedValue(changed, field)?.isSure !== true);
    const unknown = [...guessed, ...begun.lacking].map(({ fact }) => fact);
    if (unknown.length > 0)
      throw new RefusedError({
        what: `${document.title} is not there yet, and it must say more than that`,
        hint: `give ${unknown.join(', ')} as well: ${unknown.map((fact) => `${fact}=…`).join(' ')}`,
      });
    changed = new Theme(changed.platform, withFile(changed.tree, document.path, begun.bytes), changed.names, changed.location);
  }
  return changed;
}

function setFact(theme: Theme, change: FactChange): Theme {
  const carriers = theme.documents.flatMap((document) =>
    document.contract.fields.filter((field) => field.fact === change.fact && !isOneOfMany(document)).map((field) => ({ document, field })),
  );
  if (carriers.length === 0) throw unknownFact(change.fact, theme);
  if (!carriers.some(({ field }) => isWritten(field))) {
    throw new UsageError({ what: `the ${change.fact} is part of the theme’s name`, hint: 'change it with “pionero clone”' });
  }
  const closed = carriers.find(({ document }) => !['read', 'missing'].includes(document.state));
  if (closed !== undefined)
    throw new RefusedError({
      what: `${closed.document.title} cannot be read, so it cannot be changed`,
      why: closed.document.reason ?? CLOSED_REASONS[closed.document.state],
      hint: 'fix it first; “pionero check” says more',
    });
  let changed = theme;
  const readable = carriers.filter(({ document, field }) => document.state === 'read' && isWritten(field));
  const broken = readable.find(({ document }) => !isSound(document));
  if (broken !== undefined)
    throw new UsageError({
      what: `${broken.document.title} cannot be read whole, so it cannot be changed`,
      hint: '“pionero check” says where it is broken',
    });
  if (readable.length === 0) {
    const titles = [...new Set(carriers.map(({ document }) => document.title))].join(', ');
    throw new RefusedError({
      what: `the ${change.fact} has no place: ${titles} is not there`,
      hint: 'make the file first; “pionero check” says what it must hold',
    });
  }
  for (const { document, field } of readable) {
    // A document that is not needed and does not have the fact is left as it is.
    const isStated = theme.facts.some((fact) => fact.name === change.fact && fact.document === document);
    if (!isStated && readable.length > 1 && readable[0]?.document !== document) continue;
    changed = writeFact(changed, document.path, field, parseTyped(change, field, theme));
  }
  return changed;
}

/** Whether a field can be written: what carries the theme's own names among other text cannot; another theme's name has a place in its shape. */
function isWritten({ shape, type }: FieldContract): boolean {
  return shape === undefined || type === 'theme';
}

/** Why a document that is there is not read. */
const CLOSED_REASONS: Readonly<Record<string, string>> = {
  'too-large': 'it is too large for a document',
  'not-text': 'it is no text',
};

/** Writes one field. @throws UsageError when its document cannot hold the value */
function writeFact(theme: Theme, path: string, field: FieldContract, value: WritableValue): Theme {
  const document = theme.documents.find((each) => each.path === path && each.contract.fields.some((own) => isSameField(own, field)));
  if (document?.source === undefined) return theme;
  const key = keyPath(field);
  const edits = setField(document, key, value);
  if (edits === undefined)
    throw new UsageError({
      what: `“${shownValue(value)}” cannot be written into ${document.title}`,
      why: `its syntax (${document.contract.syntax}) has no way to hold it`,
    });
  const bytes = document.source.encode(applyEdits(document.source.text, edits));
  if (bytes === undefined) throw new UsageError({ what: `“${shownValue(value)}” cannot be written in the encoding of ${path}` });
  return new Theme(theme.platform, withFile(theme.tree, path, bytes), theme.names, theme.location);
}

function shownValue(value: WritableValue): string {
  return typeof value === 'object' ? JSON.stringify(value) : String(value);
}

function unknownFact(name: string, theme: Theme): UsageError {
  const known = [...new Set(theme.platform.contract.documents.flatMap((document) => document.fields.map((field) => field.fact)))];
  const near = nearest(name, known);
  return new UsageError({
    what: `${theme.platform.contract.title} has no fact “${name}”`,
    hint: didYouMean(near, `known: ${known.join(', ')}`),
  });
}

/** @throws UsageError when the value is not of the field's type */
function parseTyped({ fact, op, value: typed }: FactChange, field: FieldContract, theme: Theme): WritableValue {
  const value = op === 'set' ? typedValue(typed, field) : changedList(theme, fact, op, typed);
  const scalar = (part: string | number | boolean) => ({ kind: 'scalar', value: part, isQuoted: true, start: 0, end: 0 }) as const;
  const node =
    Array.isArray(value) && field.separator === undefined
      ? ({ kind: 'list', items: (value as readonly string[]).map(scalar), start: 0, end: 0 } as const)
      : scalar(Array.isArray(value) ? (value as readonly string[]).join(field.separator) : (value as string | number | boolean));
  const verdict = judgeNode(node, field, theme.platform);
  if (verdict === undefined) return value;
  throw new UsageError({
    what: `“${typed}” cannot be the ${fact}`,
    why: `expected: ${verdict.wanted}`,
    hint: verdict.suggestion === undefined ? undefined : `write ${verdict.suggestion}`,
  });
}

function typedValue(typed: string, field: FieldContract): WritableValue {
  if (field.type === 'list') return splitList(typed);
  if (field.type === 'map') {
    const pairs = splitList(typed).map((part) => part.split(':').map((side) => side.trim()));
    const wrong = pairs.find((pair) => pair.length !== 2 || pair[0] === '');
    if (wrong !== undefined)
      throw new UsageError({ what: `“${wrong.join(':')}” is not of the form key: value`, hint: 'separate entries with commas' });
    return Object.fromEntries(pairs as [string, string][]);
  }
  if (field.type === 'boolean' && /^(?:true|false)$/.test(typed)) return typed === 'true';
  if (field.type === 'theme' && field.shape !== undefined && !wholePattern(field.shape).test(typed))
    return fillShape(field.shape, { id: typed });
  return field.type === 'integer' && /^\d+$/.test(typed) ? Number(typed) : typed;
}

function splitList(typed: string): string[] {
  return typed
    .split(',')
    .map((part) => part.trim())
    .filter((part) => part !== '');
}

/** @throws UsageError when the fact is not a list */
function changedList(theme: Theme, fact: string, op: 'add' | 'remove', typed: string): readonly string[] {
  const known = theme.facts.find((each) => each.name === fact);
  const present = known?.value ?? [];
  if (!Array.isArray(present))
    throw new UsageError({ what: `the ${fact} is not a list, so nothing can be added or taken out`, hint: `${fact}=VALUE sets it` });
  const parts = splitList(typed);
  const list = present as readonly string[];
  if (op === 'add') return [...list, ...parts.filter((part) => !list.includes(part))];
  const absent = parts.find((part) => !list.includes(part));
  if (absent !== undefined)
    throw new UsageError({ what: `“${absent}” is not among the ${fact}`, hint: `there are ${list.join(', ') || 'none'}` });
  return list.filter((part) => !parts.includes(part));
}

/** The paths of the files that setting facts can change: documents, templates that name a parent, the changelog. */
export function writtenPaths(before: Theme, after: Theme): Set<string> {
  const changelog = changelogOf(before);
  const mentions = parentMentions(before).map(({ file }) => file);
  return new Set([
    ...after.documents.map(({ path }) => path),
    ...mentions,
    ...(changelog === undefined ? [] : [changelog]),
    ...licenseFiles(after.tree),
  ]);
}
