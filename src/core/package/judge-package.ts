import type { PackagePlan, PackedTheme } from './pack-theme.ts';
import { submissionProblems, type SubmissionProblem } from '../contents/package-contents.ts';

/** The purpose of a package: installing it, or handing it in to a public directory. */
export type PackagePurpose = 'install' | 'submission';

/** Why a package would be sent back: too large, or without what a submission must hold, or with what it must not. */
export function judgePackage({ theme, entries }: PackagePlan, packed: PackedTheme, purpose: PackagePurpose): string[] {
  const limit = theme.platform.contract.package['max-bytes'];
  const isTooLarge = limit !== undefined && packed.bytes > limit;
  return [
    ...(isTooLarge ? [`the archive has ${packed.bytes} bytes; at most ${limit} are allowed`] : []),
    ...(purpose === 'install' ? [] : submissionProblems(theme, { entries }).map(problemText)),
  ];
}

function problemText(problem: SubmissionProblem): string {
  return problem.kind === 'requires' ? `a submission must hold ${problem.glob}` : `a submission must not hold ${problem.path}`;
}
