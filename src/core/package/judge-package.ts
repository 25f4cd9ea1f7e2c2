import { matchesGlob } from '../files/glob.ts';
import type { PackagePlan, PackedTheme } from './pack-theme.ts';

/** What a package is for: installing it, or handing it in to a public directory. */
export type PackagePurpose = 'install' | 'submission';

/** Why a package would be sent back: too large, or without what a submission must hold, or with what it must not. */
export function judgePackage({ theme, entries }: PackagePlan, packed: PackedTheme, purpose: PackagePurpose): string[] {
  const { submission, 'max-bytes': limit } = theme.platform.contract.package;
  const problems: string[] = [];
  if (limit !== undefined && packed.bytes > limit) problems.push(`the archive has ${packed.bytes} bytes; at most ${limit} are allowed`);
  if (purpose === 'install') return problems;
  const files = entries.filter((entry) => entry.kind !== 'folder').map((entry) => entry.path);
  for (const glob of submission.requires)
    if (!files.some((path) => matchesGlob(path, glob))) problems.push(`a submission must hold ${glob}`);
  for (const glob of submission.forbids) {
    for (const path of files.filter((each) => matchesGlob(each, glob))) problems.push(`a submission must not hold ${path}`);
  }
  return problems;
}
