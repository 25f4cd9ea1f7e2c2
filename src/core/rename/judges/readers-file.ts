import { baseOf } from '../../files/file-tree.ts';
import type { FileView } from '../mention.ts';

/** Pages of these names are no pages of a site: what else is called like a readers' file can be a template or a script. */
const SURE_PAGE = /^(licen[cs]e|copying|changelog)\.\w+$/i;

/** Whether a file has a name by which readers know what it holds, and is no template or script of that name. */
export function isForReaders({ path, kind, isTemplate }: FileView, name: RegExp): boolean {
  const base = baseOf(path);
  if (!name.test(base) || isTemplate) return false;
  return kind === 'prose' || kind === 'data' || !base.includes('.') || (SURE_PAGE.test(base) && kind !== 'code' && kind !== 'script');
}
