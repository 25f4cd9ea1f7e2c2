import { readdirSync } from 'node:fs';
import { join } from 'node:path';

/**
 * Names in a folder as documents write them: macOS keeps letters and their marks apart where a program wrote them so, and finds them
 * under either form.
 * @throws the system's error when the folder cannot be listed
 */
export function namesOnDisk(folder: string, platform: NodeJS.Platform = process.platform): { name: string; onDisk: string }[] {
  return readdirSync(folder).map((onDisk) => ({ name: asDocuments(onDisk, platform), onDisk }));
}

/** Whether a system finds a name only as it is written: neither in another case nor in another form of its letters. */
export function tellsNamesApart(platform: NodeJS.Platform = process.platform): boolean {
  return platform !== 'win32' && platform !== 'darwin';
}

/** Names in a folder as the disk has them; none when it cannot be listed. */
export function namesIn(folder: string): string[] {
  try {
    return readdirSync(folder);
  } catch {
    return [];
  }
}

/**
 * Whether each name of a `/` path below a folder is written on the disk as in the path: some systems find `sheet.css` under `Sheet.css`,
 * and a host that does not will not. True on systems that tell them apart.
 */
export function isWritten(folder: string, path: string, platform: NodeJS.Platform = process.platform): boolean {
  if (tellsNamesApart(platform)) return true;
  let at = folder;
  for (const part of path.split('/')) {
    if (!namesIn(at).some((name) => asDocuments(name, platform) === part)) return false;
    at = join(at, part);
  }
  return true;
}

function asDocuments(name: string, platform: NodeJS.Platform): string {
  return platform === 'darwin' ? name.normalize('NFC') : name;
}
