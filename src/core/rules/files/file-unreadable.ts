import { followLinks, UnreadableFileError, type FileTree } from '../../files/file-tree.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'allow-entering': 'give yourself the right to read and enter it',
});

/** Files and folders that cannot be read. */
export const fileUnreadable: Rule = {
  meta: {
    id: 'file/unreadable',
    severity: 'error',
    summary: 'A file or folder cannot be read',
    why: 'What you cannot read cannot be packed, and a host that runs as another user is stopped by it too.',
    messages: { file: '{path} cannot be read: {reason}', folder: 'the folder {path} cannot be listed: {reason}' },
    example: { none: 'it is about a file’s mode, which a listing does not show' },
  },
  *check({ theme }) {
    const { tree } = theme;
    const documents = new Set(theme.documents.map((document) => document.path));
    for (const folder of tree.disk?.unlisted ?? []) {
      yield { message: 'folder', args: folder, file: folder.path, hint: advise('allow-entering') };
    }
    for (const entry of tree.entries) {
      // A file without any permission bit is tried; reading all others would read the whole theme twice.
      if (entry.kind !== 'file' || (entry.mode & 0o444) === 0o444 || documents.has(entry.path)) continue;
      const reason = readFailure(tree, entry.path);
      if (reason !== undefined)
        yield { message: 'file', args: { path: entry.path, reason }, file: entry.path, hint: advise('allow-reading') };
    }
  },
};

function readFailure(tree: FileTree, path: string): string | undefined {
  if (followLinks(tree, path) === undefined) return undefined;
  try {
    tree.read(path);
    return undefined;
  } catch (error) {
    if (error instanceof UnreadableFileError) return error.message;
    throw error;
  }
}
