import { TOOL_FOLDERS } from '../files/disk-tree.ts';
import { pathBelow } from '../files/file-tree.ts';

/**
 * Files and folders, besides those of {@link TOOL_FOLDERS}, from which a developer's tools run commands as soon as someone
 * opens the folder or works in it: tasks of editors and assistants, hooks, environments of shells, settings of package and version tools.
 */
const RUN_BY_TOOLS: ReadonlySet<string> = new Set([
  ...['.aider.conf.yml', '.bzr', '.bundle', '.cargo', '.claude', '.codex', '.continue', '.cursor'],
  '.devcontainer',
  '.dir-locals.el',
  '.direnv',
  '.envrc',
  '.exrc',
  '.fleet',
  '.gdbinit',
  '.gemini',
  '.gitattributes',
  '.gitconfig',
  '.githooks',
  '.gitmodules',
  '.gvimrc',
  '.husky',
  '.hgrc',
  '.idea',
  '.lldbinit',
  '.mcp.json',
  '.mise.toml',
  '.npmrc',
  '.nvim.lua',
  '.nvimrc',
  ...['.pnp.cjs', '.pnp.loader.mjs', '.pnpmfile.cjs', '.pnpmfile.js'],
  '.vim',
  '.vimrc',
  '.vs',
  '.vscode',
  '.windsurf',
  ...['.yarn', '.yarnrc', '.yarnrc.yml'],
  '.zed',
]);

/** The entries that make a folder a Git repository, whatever its name (gitrepository-layout(5)); HEAD is needed. */
const REPOSITORY_PARTS: ReadonlySet<string> = new Set([
  ...['HEAD', 'branches', 'commondir', 'config', 'config.worktree', 'description', 'gitdir', 'hooks', 'index', 'info', 'logs'],
  ...['modules', 'objects', 'packed-refs', 'refs', 'worktrees'],
]);

/** Longer than this no HEAD is: a branch, or the name of a commit. */
export const LONGEST_HEAD = 4096;

/** Whether a file called HEAD says what one of a repository says. */
export function isRepositoryHead(text: string): boolean {
  return /^(?:ref:\s*refs\/|[0-9a-f]{40}(?:[0-9a-f]{24})?\s*$)/.test(text);
}

/** Whether a path is a part of the repository that a folder is; `''` is the root. */
export function isRepositoryPart(folder: string, path: string): boolean {
  const local = folder === '' ? path : pathBelow(folder, path);
  return local !== undefined && REPOSITORY_PARTS.has(local.split('/')[0] ?? '');
}

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
