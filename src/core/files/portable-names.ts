/** Why a name of a file or folder cannot be on every system. */
export type PortableProblem = 'device' | 'sign' | 'end' | 'form';

/** Names that Windows keeps for devices: no file or folder can have them there, whatever its extension. */
const DEVICE = /^(?:con|prn|aux|nul|com[0-9¹²³]|lpt[0-9¹²³]|conin\$|conout\$) *(?:\.|$)/i;

/** Characters that no name of a file holds on Windows, where `c:foo` lies on another drive. */
// eslint-disable-next-line no-control-regex
const NEVER_ON_WINDOWS = /[<>:"|?*\\\u0001-\u001f]/;

/** Why a name, without its folder, cannot be on every system; undefined when it can. */
export function portableProblem(name: string): PortableProblem | undefined {
  if (DEVICE.test(name)) return 'device';
  if (signNeverOnWindows(name) !== undefined) return 'sign';
  if (/[. ]$/.test(name)) return 'end';
  return name === name.normalize('NFC') ? undefined : 'form';
}

/** The first character of a name that Windows lets be in none. */
export function signNeverOnWindows(name: string): string | undefined {
  return NEVER_ON_WINDOWS.exec(name)?.[0];
}

/** Paths that some systems take for the same: those that do not tell `A` from `a`, or `é` from `e` and its mark. */
export function foldedPath(path: string): string {
  return path.normalize('NFC').toLowerCase();
}

/** The first two paths, or folders on their way, that are different and that some systems take for the same. */
export function firstTwins(paths: Iterable<string>): readonly [string, string] | undefined {
  const known = new Map<string, string>();
  for (const path of paths) {
    const parts = path.split('/');
    for (let depth = 1; depth <= parts.length; depth++) {
      const part = parts.slice(0, depth).join('/');
      const other = known.get(foldedPath(part));
      if (other !== undefined && other !== part) return [other, part];
      known.set(foldedPath(part), part);
    }
  }
  return undefined;
}
