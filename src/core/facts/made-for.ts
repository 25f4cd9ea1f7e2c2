import semver from 'semver';

/** Whether a version lies in a range (SemVer 2.0.0); one in two parts counts as if it ended in .0, and an unreadable one fits. */
export function isMadeFor(version: string, range: string): boolean {
  const known = semver.parse(version) ?? semver.coerce(version);
  return known === null || semver.satisfies(known, range, { includePrerelease: true });
}

/** The range that a child of a version is made for, when nobody knows more: it and all that break nothing (SemVer 2.0.0, 4 and 8). */
export function rangeFor(version: string): string | undefined {
  const known = semver.parse(version) ?? semver.coerce(version);
  if (known === null) return undefined;
  return known.major === 0 ? `>=${known.version} <0.${known.minor + 1}.0` : `>=${known.version} <${known.major + 1}.0.0`;
}
