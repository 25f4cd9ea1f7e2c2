import { TOOL_FOLDERS } from '../files/disk-tree.ts';

/**
 * Files and folders, besides those of {@link TOOL_FOLDERS}, from which a developer's tools run commands as soon as somebody
 * opens the folder or works in it: tasks of editors, hooks, environments of shells, local settings of editors.
 */
const RUN_BY_TOOLS: ReadonlySet<string> = new Set([
  '.bzr',
  '.devcontainer',
  '.dir-locals.el',
  '.direnv',
  '.envrc',
  '.exrc',
  '.fleet',
  '.githooks',
  '.gvimrc',
  '.husky',
  '.idea',
  '.nvim.lua',
  '.nvimrc',
  '.vim',
  '.vimrc',
  '.vs',
  '.vscode',
  '.zed',
]);

/** The part of a path up to the file or folder of a tool that an archive must not bring; undefined when there is none. */
export function isToolPath(path: string): string | undefined {
  const parts = path.split('/');
  const index = parts.findIndex((part) => isToolName(part));
  return index < 0 ? undefined : parts.slice(0, index + 1).join('/');
}

/** Some file systems take no account of case, of trailing dots and spaces, or of characters that are not shown, and have short names. */
function isToolName(part: string): boolean {
  const plain = part
    .normalize('NFKC')
    .replace(/\p{Default_Ignorable_Code_Point}/gu, '')
    .replace(/[. ]+$/, '')
    .toLowerCase();
  return TOOL_FOLDERS.has(plain) || RUN_BY_TOOLS.has(plain) || /^git~\d+$/.test(plain);
}
