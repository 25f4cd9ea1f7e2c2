import { reviewArchive, type ReviewInput, type ReviewOutcome } from './review.ts';

/** The part of a catalogue’s work that a thread of its own does: see {@link reviewArchive}. */
export async function review(input: ReviewInput): Promise<ReviewOutcome> {
  return reviewArchive(input);
}
