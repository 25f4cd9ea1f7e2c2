/** Put in by the build: a hash of the program's sources. Not there where the sources run themselves, as in tests. */
declare const PIONERO_BUILD: string | undefined;

/** Tells one build of Pionero from another; the version alone where there was no build. */
export function buildOf(version: string): string {
  return typeof PIONERO_BUILD === 'string' ? `${version} ${PIONERO_BUILD}` : version;
}
