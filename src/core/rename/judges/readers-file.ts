import { baseOf } from '../../files/file-tree.ts';
import type { FileView } from '../mention.ts';

/** Pages of these names never belong to a site; other files that are called like a readers' file can be templates or scripts. */
const SURE_PAGE = /^(licen[cs]e|copying|changelog)\.\w+$/i;

/** Whether a file has a name by which readers know what it holds, and is not a template or script of that name. */
export function isForReaders({ path, kind, isTemplate }: FileView, name: RegExp): boolean {
  const base = baseOf(path);
  if (!name.test(base) || isTemplate) return false;
  return kind === 'prose' || kind === 'data' || !base.includes('.') || (SURE_PAGE.test(base) && kind !== 'code' && kind !== 'script');
}
