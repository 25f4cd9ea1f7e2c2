import { createHash } from 'node:crypto';
import { baseOf } from '../files/file-tree.ts';
import { fillShape } from '../names/shape.ts';
import type { Chain } from '../theme/chain.ts';
import { billOf, type BillAbout } from './bill.ts';
import { listingOf } from './listing.ts';
import { thirdPartyIn } from '../contents/third-party.ts';
import type { PackagePlan } from './pack-theme.ts';

/** A file that is handed in beside the archive. */
export interface SubmissionPart {
  /** In the folder of the submission. */
  readonly name: string;
  readonly bytes: Buffer;
}

/** The files handed in beside an archive: its pictures, its listing, its bill of materials, and the checksums of all. */
export function submissionParts(plan: PackagePlan, chain: Chain, about: BillAbout): SubmissionPart[] {
  const { theme } = plan;
  const pictures = theme.platform.contract.images.flatMap(({ path }): SubmissionPart[] => {
    const place = fillShape(path, theme.names);
    return theme.tree.get(place)?.kind === 'file' ? [{ name: baseOf(place), bytes: theme.tree.read(place) }] : [];
  });
  const text = (name: string, content: string): SubmissionPart => ({ name, bytes: Buffer.from(content) });
  const others = thirdPartyIn(theme, plan.entries);
  const parts = [
    ...pictures,
    text('listing.md', listingOf(plan, chain, others)),
    text('bom.cdx.json', `${JSON.stringify(billOf(plan, others, about), null, 2)}\n`),
  ];
  const sums = [
    { name: plan.name, sum: about.sha256 },
    ...parts.map(({ name, bytes }) => ({ name, sum: createHash('sha256').update(bytes).digest('hex') })),
  ];
  return [...parts, text('SHA256SUMS', sums.map(({ name, sum }) => `${sum}  ${name}\n`).join(''))];
}
