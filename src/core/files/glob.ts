import picomatch from 'picomatch';

const compiled = new Map<string, (path: string) => boolean>();

/** Whether a `/` path matches a glob (`**`, `*`, `?`, `{a,b}`, `[…]`); dot files match like others. */
export function matchesGlob(path: string, glob: string): boolean {
  let match = compiled.get(glob);
  if (match === undefined) {
    match = picomatch(glob, { dot: true });
    compiled.set(glob, match);
  }
  return match(path);
}

export function matchesAny(path: string, globs: readonly string[]): boolean {
  return globs.some((glob) => matchesGlob(path, glob));
}
