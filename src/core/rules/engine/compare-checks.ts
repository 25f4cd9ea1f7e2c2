import type { CheckedFolder } from './check-folders.ts';
import type { Finding } from './check.ts';

/** A package in one check or in both, and what changed of its findings. */
export interface ComparedPackage {
  readonly id: string;
  readonly folder: string;
  readonly platform: string;
  /**
   * `broke`: it has an error, and had none; `fixed`: the other way round; `worse` and `better`: findings came, or only went;
   * `new` and `gone`: it is in one of the checks alone.
   */
  readonly state: 'broke' | 'fixed' | 'worse' | 'better' | 'same' | 'new' | 'gone';
  readonly came: readonly Finding[];
  readonly went: readonly Finding[];
}

/** How often a rule found something that it had not found before, or no longer finds, and in how many packages. */
export interface ComparedRule {
  readonly rule: string;
  readonly came: number;
  readonly went: number;
  readonly packages: number;
  /** The packages that broke, and have a finding of it that came. */
  readonly broke: number;
}

/** What changed from one check of many packages to another. */
export interface Comparison {
  readonly packages: readonly ComparedPackage[];
  /** Those for which anything changed, the one that broke most packages first. */
  readonly rules: readonly ComparedRule[];
}

/** Checks of packages, of which each is read when it is its turn: by the folders that the packages lie in. */
export type StoredChecks = ReadonlyMap<string, () => CheckedFolder>;

/** Compares two checks of packages, which are the same ones where they lay in the same folder. Memory holds what changed. */
export function compareChecks(before: StoredChecks, after: StoredChecks): Comparison {
  const places = new Set([...after.keys(), ...before.keys()]);
  const packages = [...places].flatMap((folder) => comparePackage(before.get(folder)?.(), after.get(folder)?.()));
  return { packages, rules: rulesOf(packages) };
}

function comparePackage(before: CheckedFolder | undefined, after: CheckedFolder | undefined): ComparedPackage[] {
  const known = after ?? before;
  if (known === undefined) return [];
  const [old, now] = [before?.result.findings ?? [], after?.result.findings ?? []];
  const came = findingsBeyond(now, old);
  const went = findingsBeyond(old, now);
  return [{ id: known.id, folder: known.folder, platform: known.platform.name, state: stateOf(before, after, came, went), came, went }];
}

function stateOf(
  before: CheckedFolder | undefined,
  after: CheckedFolder | undefined,
  came: readonly Finding[],
  went: readonly Finding[],
): ComparedPackage['state'] {
  if (before === undefined) return 'new';
  if (after === undefined) return 'gone';
  const [wasBroken, isBroken] = [hasError(before), hasError(after)];
  if (wasBroken !== isBroken) return isBroken ? 'broke' : 'fixed';
  return came.length > 0 ? 'worse' : went.length > 0 ? 'better' : 'same';
}

function hasError({ result }: CheckedFolder): boolean {
  return result.findings.some(({ severity }) => severity === 'error');
}

/** The findings of a list that another does not have as often. Lines may move: a finding is known by its words. */
export function findingsBeyond(list: readonly Finding[], other: readonly Finding[]): Finding[] {
  const left = new Map<string, number>();
  for (const finding of other) left.set(keyOf(finding), (left.get(keyOf(finding)) ?? 0) + 1);
  return list.filter((finding) => {
    const count = left.get(keyOf(finding)) ?? 0;
    left.set(keyOf(finding), count - 1);
    return count <= 0;
  });
}

function keyOf({ rule, severity, file, message }: Finding): string {
  return [rule, severity, file, message].join('\0');
}

function rulesOf(packages: readonly ComparedPackage[]): ComparedRule[] {
  const rules = new Map<string, { rule: string; came: number; went: number; packages: number; broke: number }>();
  for (const { state, came, went } of packages) {
    // A package of one check alone says nothing about a rule.
    if (state === 'new' || state === 'gone') continue;
    for (const id of new Set([...came, ...went].map(({ rule }) => rule))) {
      const rule = rules.get(id) ?? { rule: id, came: 0, went: 0, packages: 0, broke: 0 };
      const own = came.filter((finding) => finding.rule === id);
      rule.came += own.length;
      rule.went += went.filter((finding) => finding.rule === id).length;
      rule.packages++;
      if (state === 'broke' && own.some(({ severity }) => severity === 'error')) rule.broke++;
      rules.set(id, rule);
    }
  }
  return [...rules.values()].sort((a, b) => b.broke - a.broke || b.came - a.came || b.went - a.went || (a.rule < b.rule ? -1 : 1));
}
