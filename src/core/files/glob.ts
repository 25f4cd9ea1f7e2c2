import picomatch from 'picomatch';

const compiled = new Map<string, (path: string) => boolean>();

/** Whether a `/` path matches a glob (`**`, `*`, `?`, `{a,b}`, `[…]`, `[!…]`); dot files match like others. */
export function matchesGlob(path: string, glob: string): boolean {
  let match = compiled.get(glob);
  if (match === undefined) {
    // The library knows only the other way to write that none of these characters may stand there.
    match = picomatch(glob.replaceAll('[!', '[^'), { dot: true, noextglob: true });
    compiled.set(glob, match);
  }
  return match(path);
}

/** Whether a path names files by a glob, and not one by its name. */
export function isGlob(path: string): boolean {
  return /[*?{[]/.test(path);
}

/** The paths that a glob names one by one (`{a,b}.html`); none of one that stands for any. */
export function pathsOfGlob(glob: string): string[] {
  if (/[*?[]/.test(glob)) return [];
  const choice = /\{([^{}]*)\}/.exec(glob);
  if (choice === null) return [glob];
  const [before, after] = [glob.slice(0, choice.index), glob.slice(choice.index + choice[0].length)];
  return (choice[1] ?? '').split(',').flatMap((part) => pathsOfGlob(`${before}${part}${after}`));
}

export function matchesAny(path: string, globs: readonly string[]): boolean {
  return globs.some((glob) => matchesGlob(path, glob));
}

/** Matching tries every way to divide a name between the stars of one part: with few of them that is soon done. */
const MAX_STARS = 3;
const MAX_DEEP_STARS = 3;
const MAX_GLOB_LENGTH = 400;

/** Why a glob from outside could take too long to match; undefined when it cannot. */
export function problemOfGlob(glob: string): string | undefined {
  if (glob.length > MAX_GLOB_LENGTH) return `it has more than ${MAX_GLOB_LENGTH} characters`;
  if (/[*?+@!]\(/.test(glob)) return 'it repeats a group, which can take endlessly long';
  const parts = glob.split('/').map((part) => part.replaceAll('**', '\0'));
  if (parts.some((part) => (part.match(/\*/g) ?? []).length > MAX_STARS))
    return `it has more than ${MAX_STARS} stars in one part of the path`;
  if ((glob.match(/\*\*/g) ?? []).length > MAX_DEEP_STARS) return `it has more than ${MAX_DEEP_STARS} times **`;
  return undefined;
}
