import type { Theme } from './theme.ts';

/** The file by which people know a theme: the first document that is there and has fields; where it has none, its first file. */
export function mainFile({ documents, tree }: Theme): string {
  const there = documents.filter(({ state }) => state !== 'missing');
  const document = there.find(({ contract }) => contract.fields.length > 0) ?? there[0];
  return document?.path ?? tree.entries.find(({ kind }) => kind === 'file')?.path ?? '';
}
