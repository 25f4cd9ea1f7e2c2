import semver, { type ReleaseType } from 'semver';
import { UsageError } from '../errors.ts';
import { isOneOfMany, type Fact } from '../theme/documents.ts';
import { withChangelogHeading } from './changelog-heading.ts';
import { setFacts, type FactChange } from './set-facts.ts';
import type { Theme } from '../theme/theme.ts';

/** A fact of which two documents say different things, and what they will all say. */
export interface Disagreement {
  readonly fact: string;
  readonly says: readonly { readonly file: string; readonly value: string }[];
  readonly chosen: string;
}

/** Facts of which documents disagree. @param from the document that is right; without it, the one with the newest version */
export function findDisagreements(theme: Theme, from?: string): Disagreement[] {
  const names = [...new Set(theme.facts.map((fact) => fact.name))].filter((name) => name !== 'id' && name !== 'vendor');
  const stated = (name: string): (Fact & { value: string })[] =>
    theme.facts.filter(
      (fact): fact is Fact & { value: string } => fact.name === name && typeof fact.value === 'string' && !isOneOfMany(fact.document),
    );
  if (from !== undefined && !theme.facts.some((fact) => fact.document.path === from)) {
    const files = [...new Set(theme.facts.map((fact) => fact.document.path))];
    throw new UsageError({ what: `${from} is not a document of the theme that states a fact`, hint: `there are ${files.join(', ')}` });
  }
  const newest = stated('version').toSorted((a, b) =>
    semver.rcompare(semver.coerce(a.value) ?? '0.0.0', semver.coerce(b.value) ?? '0.0.0'),
  )[0]?.document.path;
  return names.flatMap((name) => {
    const facts = stated(name);
    if (new Set(facts.map((fact) => fact.value)).size < 2) return [];
    const right = facts.find((fact) => fact.document.path === (from ?? newest)) ?? facts[0];
    return right === undefined
      ? []
      : [{ fact: name, says: facts.map((fact) => ({ file: fact.document.path, value: fact.value })), chosen: right.value }];
  });
}

/** Makes documents agree. Nothing is written to disk. */
export function syncFacts(theme: Theme, disagreements: readonly Disagreement[]): Theme {
  return setFacts(
    theme,
    disagreements.map(({ fact, chosen }): FactChange => ({ fact, op: 'set', value: chosen })),
  );
}

export type VersionPart = 'major' | 'minor' | 'patch';

/**
 * Moves the version everywhere it stands, and the serial number where the platform has one; the changelog gets a heading for it.
 * Nothing is written to disk.
 * @param today the date in headings that have one: 2026-06-12
 * @throws UsageError when the theme has neither
 */
export function bumpVersion(theme: Theme, part: VersionPart, today: string): { theme: Theme; changes: readonly FactChange[] } {
  const changes: FactChange[] = [];
  const version = theme.text('version');
  const next = version === undefined ? null : semver.inc(version, part satisfies ReleaseType);
  if (version !== undefined && next === null)
    throw new UsageError({
      what: `the version “${version}” of ${theme.names.id} cannot be raised: it is not of the form 1.4.0`,
      hint: 'set it with “pionero meta set version=…”',
    });
  if (next !== null) changes.push({ fact: 'version', op: 'set', value: next });
  const serial = theme.facts.find((fact) => fact.field.type === 'integer' && fact.name === 'serial');
  if (typeof serial?.value === 'string' && /^\d+$/.test(serial.value))
    changes.push({ fact: 'serial', op: 'set', value: String(Number(serial.value) + 1) });
  if (changes.length === 0)
    throw new UsageError({
      what: `${theme.names.id} has neither a version nor a serial number`,
      hint: 'set one with “pionero meta set version=1.0.0”',
    });
  const raised = setFacts(theme, changes);
  const isHeaded = version !== undefined && next !== null;
  return { theme: isHeaded ? withChangelogHeading(raised, version, next, today) : raised, changes };
}
