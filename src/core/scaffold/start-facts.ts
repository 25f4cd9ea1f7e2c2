import { releasesInRange, type Platform } from '../platform/platform.ts';
import { rangeFor } from '../facts/made-for.ts';
import type { Theme } from '../theme/theme.ts';

/** A fact that a new theme starts with, and who says so. */
export interface StartFact {
  readonly fact: string;
  readonly value: string;
  readonly from: 'given' | 'asked' | 'yours' | 'like' | 'parent';
}

export interface FactSources {
  readonly platform: Platform;
  readonly given: Readonly<Record<string, string>>;
  readonly asked: Readonly<Record<string, string>>;
  /** The user's own configuration. */
  readonly yours: Readonly<Record<string, string>>;
  /** Another theme, whose author, license, tags and releases are taken. */
  readonly like?: Theme | undefined;
  readonly parent?: Theme | undefined;
  /** The releases that the kit says it is for. */
  readonly hosts?: string | undefined;
}

/** The facts to take from another theme: who made it and for which hosts, not what it is. */
const ALIKE = ['author', 'license', 'homepage', 'tags', 'hosts'] as const;

/** The facts that a new theme starts with, each from the nearest who says it; those that its platform does not know are left out. */
export function startFacts({ platform, given, asked, yours, like, parent, hosts }: FactSources): StartFact[] {
  const known = new Set(platform.contract.documents.flatMap(({ fields }) => fields.map(({ fact }) => fact)));
  const found = new Map<string, StartFact>();
  const add = (facts: Readonly<Record<string, string | undefined>>, from: StartFact['from']): void => {
    for (const [fact, value] of Object.entries(facts))
      if (value !== undefined && !found.has(fact) && (from === 'given' || known.has(fact))) found.set(fact, { fact, value, from });
  };
  add(given, 'given');
  add(asked, 'asked');
  add(yours, 'yours');
  if (like !== undefined) add(Object.fromEntries(ALIKE.map((fact) => [fact, textOf(like, fact)])), 'like');
  // A child is for no release that its parent is not for.
  const own = found.get('hosts');
  const range = parent?.hosts;
  const isTyped = own?.from === 'given' || own?.from === 'asked';
  if (range !== undefined && !isTyped) {
    const allowed = new Set(releasesInRange(platform, range));
    if (releasesInRange(platform, own?.value ?? hosts).some((release) => !allowed.has(release)))
      found.set('hosts', { fact: 'hosts', value: range, from: 'parent' });
  }
  // A child is made for the hosts that it was made with, until someone says more.
  const madeFor = platform.contract.inheritance['made-for'];
  const version = parent?.text('version');
  const proposed = version === undefined ? undefined : rangeFor(version);
  if (madeFor !== undefined && proposed !== undefined) add({ [madeFor]: proposed }, 'parent');
  return [...found.values()];
}

function textOf(theme: Theme, name: string): string | undefined {
  const value = theme.fact(name)?.value;
  if (Array.isArray(value)) return (value as readonly string[]).join(',');
  return typeof value === 'string' ? value : undefined;
}
