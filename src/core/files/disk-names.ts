import { readdirSync } from 'node:fs';
import { join } from 'node:path';

/**
 * Names in a folder as documents write them: macOS keeps letters and their marks apart where a program wrote them so, and finds them
 * under either form.
 * @throws the system's error when the folder cannot be listed
 */
export function namesOnDisk(folder: string, platform: NodeJS.Platform = process.platform): { name: string; onDisk: string }[] {
  return readdirSync(folder).map((onDisk) => ({ name: platform === 'darwin' ? onDisk.normalize('NFC') : onDisk, onDisk }));
}

/**
 * Whether each name of a `/` path below a folder is written on the disk as in the path: some systems find `sheet.css` under `Sheet.css`,
 * and a host that does not will not. True on systems that tell them apart.
 */
export function isWritten(folder: string, path: string, platform: NodeJS.Platform = process.platform): boolean {
  if (platform !== 'win32' && platform !== 'darwin') return true;
  let at = folder;
  for (const part of path.split('/')) {
    if (!listed(at, platform).includes(part)) return false;
    at = join(at, part);
  }
  return true;
}

function listed(folder: string, platform: NodeJS.Platform): string[] {
  try {
    return namesOnDisk(folder, platform).map(({ name }) => name);
  } catch {
    return [];
  }
}
