import { reviewArchive, type ReviewInput, type ReviewOutcome } from './review.ts';

/** What a thread of its own does of a catalogue’s work: see {@link reviewArchive}. */
export async function review(input: ReviewInput): Promise<ReviewOutcome> {
  return reviewArchive(input);
}
