import semver from 'semver';
import type { FactChange } from '../facts/set-facts.ts';
import { compareReleases, type Platform } from '../platform/platform.ts';
import type { Theme } from '../theme/theme.ts';

/** Later than any release of a host. */
const FAR_AWAY = '99999.0.0';

/**
 * The change that makes a theme state releases from one to another, in the form in which it states them; undefined where it states none.
 * @param low the oldest release that it still runs on @param high the newest
 */
export function rangeChange(theme: Theme, low: string, high: string): FactChange | undefined {
  const fact = theme.fact('hosts');
  if (fact === undefined) return undefined;
  const { field, value } = fact;
  const kind = field.of ?? field.type;
  // A list of releases, or of ranges, gets one more.
  if (Array.isArray(value)) return { fact: 'hosts', op: 'add', value: kind === 'release' ? high : `>=${high}` };
  if (kind === 'release') return { fact: 'hosts', op: 'set', value: high };
  const range = typeof value === 'string' ? value : '';
  const isOpen = semver.validRange(range) === null || semver.satisfies(FAR_AWAY, range);
  return { fact: 'hosts', op: 'set', value: isOpen ? `>=${low}` : `>=${low} <${releaseAfter(theme.platform, high)}` };
}

/** The release after one: the next that the platform file knows, else the next number. */
function releaseAfter({ contract }: Platform, release: string): string {
  const next = contract.releases.find((each) => compareReleases(each, release) > 0);
  return next ?? release.replace(/\d+$/, (last) => String(Number(last) + 1));
}
