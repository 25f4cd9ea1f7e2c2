import { planBetween } from '../changes/plan-between.ts';
import type { ChangePlan } from '../changes/plan.ts';
import { setFacts } from '../facts/set-facts.ts';
import { compareReleases, releaseNamed, releasesInRange } from '../platform/platform.ts';
import { checkOptionsOf, checkTheme, type CheckOptions, type Finding } from '../rules/engine/check.ts';
import { isBreaking } from '../rules/engine/errors-brought.ts';
import { planFixes, type PlannedFix } from '../rules/engine/fix.ts';
import { RULES } from '../rules/rules.ts';
import { openChain } from '../theme/chain.ts';
import type { OpenedTheme } from '../theme/open.ts';
import type { Shelves } from '../theme/shelf.ts';
import type { Theme } from '../theme/theme.ts';
import { rangeChange } from './stated-range.ts';

/** The changes that a theme needs to run on a release of its host. */
export interface Upgrade {
  /** As the platform file writes it. */
  readonly release: string;
  /** Changes with one right answer, which are part of the plan. */
  readonly fixes: readonly PlannedFix[];
  /** The releases that it states, before and after; undefined where nothing changes there. */
  readonly range?: { readonly before: string; readonly after: string } | undefined;
  /** Releases that it was for, and does not run on any more. */
  readonly dropped: readonly string[];
  /** Findings of that release that a person must decide. */
  readonly open: readonly Finding[];
  /** How many errors it has on every release: they are no matter of this one. */
  readonly others: number;
  /** Errors that the changes themselves bring. */
  readonly broken: readonly Finding[];
  readonly plan: ChangePlan;
  /** The files that change, come or go. */
  readonly files: readonly string[];
  /** The theme as it then is. */
  readonly theme: Theme;
}

/** The plan fixes the findings of these rules, also where they are found on the releases that the theme is for already. */
const OF_RELEASES: ReadonlySet<string> = new Set(RULES.flatMap(({ meta }) => (meta.isOfReleases === true ? [meta.id] : [])));

/**
 * Plans to make a theme ready for a release of its host: fixes the findings of that release that have one right answer, and raises the
 * range that the theme states. Writes nothing.
 * @param shelves where its parents are: as they will be, where they are made ready in the same step
 * @throws UsageError when the platform file does not know the release
 */
export function planUpgrade({ theme, folder, configuration }: OpenedTheme, shelves: Shelves, wanted: string): Upgrade {
  const { platform } = theme;
  const release = releaseNamed(platform, wanted);
  const options = checkOptionsOf(configuration);
  const asOf = (each: Theme, releases: readonly string[]): readonly Finding[] =>
    checkTheme(each, openChain(each, shelves), shelves, { ...options, releases }).findings;
  const stated = releasesInRange(platform, theme.hosts);
  const others = stated.filter((each) => each !== release);
  // Findings of the releases that it is for already do not matter here.
  const known = others.length === 0 ? [] : asOf(theme, others);
  const ofThisRelease = (findings: readonly Finding[]): readonly Finding[] => {
    const found = new Set(beyond(known, findings));
    return findings.filter((finding) => found.has(finding) || OF_RELEASES.has(finding.rule));
  };
  const fixing: CheckOptions = { ...options, releases: [release] };
  const mended = planFixes(theme, shelves, folder, { ...fixing, choose: ofThisRelease });
  const errorsAt = (each: Theme, at: string): readonly Finding[] => asOf(each, [at]).filter(isBreaking);
  const runsOn = (at: string): boolean => beyond(errorsAt(theme, at), errorsAt(mended.theme, at)).length === 0;
  const low = oldestFrom(platform.contract.releases, release, stated, runsOn);
  const ranged = withRange(mended.theme, stated, low, release);
  const open = ofThisRelease(asOf(ranged, [release]));
  const brought = beyond(errorsAt(theme, release), errorsAt(ranged, release));
  const touched = changedPaths(theme, ranged);
  return {
    release,
    fixes: mended.fixes,
    range: ranged.hosts === theme.hosts || theme.hosts === undefined ? undefined : { before: theme.hosts, after: ranged.hosts ?? '' },
    dropped: theme.hosts === undefined ? [] : others.filter((each) => compareReleases(each, release) < 0 && compareReleases(each, low) < 0),
    open,
    others: errorsAt(ranged, release).filter((each) => !open.some((other) => isSamePlace(each, other))).length,
    broken: brought.filter((each) => !open.some((other) => isSamePlace(each, other))),
    files: [...touched],
    plan: planBetween(`upgrade ${theme.names.id} to ${release}`, folder, theme.asRead(touched), ranged.tree, touched),
    theme: ranged,
  };
}

/** The oldest release, from one downwards without a gap, that a theme is for and runs on. */
function oldestFrom(releases: readonly string[], release: string, stated: readonly string[], runsOn: (release: string) => boolean): string {
  const oldest = stated[0] ?? release;
  let low = release;
  for (const each of releases.toReversed()) {
    if (compareReleases(each, release) >= 0) continue;
    if (compareReleases(each, oldest) < 0 || !runsOn(each)) break;
    low = each;
  }
  return low;
}

/** The theme with the releases that it states from one to another; the same where it states just these. */
function withRange(theme: Theme, stated: readonly string[], low: string, release: string): Theme {
  const { releases } = theme.platform.contract;
  const isWithin = (each: string): boolean => compareReleases(each, low) >= 0 && compareReleases(each, release) <= 0;
  const isStated =
    stated.includes(release) &&
    releases.filter((each) => compareReleases(each, release) <= 0).every((each) => stated.includes(each) === isWithin(each));
  const change = isStated ? undefined : rangeChange(theme, low, release);
  return change === undefined ? theme : setFacts(theme, [change]);
}

/** The paths at which two states of a theme differ. */
function changedPaths(before: Theme, after: Theme): Set<string> {
  const all = new Set([...before.tree.entries, ...after.tree.entries].flatMap(({ kind, path }) => (kind === 'file' ? [path] : [])));
  const bytesOf = ({ tree }: Theme, path: string): Buffer | undefined => (tree.get(path)?.kind === 'file' ? tree.read(path) : undefined);
  return new Set(
    [...all].filter((path) => {
      const [then, now] = [bytesOf(before, path), bytesOf(after, path)];
      return then === undefined || now === undefined || !then.equals(now);
    }),
  );
}

function isSamePlace(a: Finding, b: Finding): boolean {
  return a.rule === b.rule && a.file === b.file && a.line === b.line && a.column === b.column;
}

/** The findings that do not stand among known ones as often. A warning on one release can be an error on another. */
function beyond(known: readonly Finding[], findings: readonly Finding[]): Finding[] {
  const keyOf = ({ rule, file, code, severity }: Finding): string => [rule, file, code, severity].join('\0');
  const left = new Map<string, number>();
  for (const finding of known) left.set(keyOf(finding), (left.get(keyOf(finding)) ?? 0) + 1);
  return findings.filter((finding) => {
    const count = left.get(keyOf(finding)) ?? 0;
    left.set(keyOf(finding), count - 1);
    return count <= 0;
  });
}
