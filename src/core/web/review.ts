import { platformsIn, shippedPlatforms } from '../platform/load.ts';
import { PioneroError } from '../errors.ts';
import { checkTheme, type Finding } from '../rules/engine/check.ts';
import { openChain } from '../theme/chain.ts';
import { openThemeArchive } from '../theme/open-archive.ts';
import { Shelves } from '../theme/shelf.ts';
import type { Theme } from '../theme/theme.ts';

/** An archive, and what it was called when it was sent. */
export interface ReviewedArchive {
  /** Absolute. */
  readonly path: string;
  readonly called: string | undefined;
}

/** A submission, and what it may build on. Plain data: it is sent to another thread. */
export interface ReviewInput extends ReviewedArchive {
  /** Where relative paths start; absolute. */
  readonly folder: string;
  readonly platform: string;
  /** The folder of platform files besides the shipped ones. */
  readonly platformFolder: string;
  /** The themes that were accepted for the platform, in their newest versions. */
  readonly accepted: readonly (ReviewedArchive & { readonly id: string })[];
}

/** The identity of a submission, and the verdict on it. */
export interface Review {
  readonly id: string;
  readonly title: string | undefined;
  readonly summary: string;
  readonly version: string;
  readonly findings: readonly Finding[];
  /** The parent that it builds on and that is not there. */
  readonly missingParent: string | undefined;
}

/** What came of a review; `failure` when the archive is damaged, would do harm, or holds no theme. */
export type ReviewOutcome = { readonly review: Review } | { readonly failure: string };

/** Unpacks an archive safely, and checks it as a submission over its parents as they are in the catalogue. */
export async function reviewArchive(input: ReviewInput): Promise<ReviewOutcome> {
  try {
    const { theme } = await open(input, input);
    const shelves = new Shelves(theme.platform, [], input.folder).with(await parentsOf(theme, input));
    const chain = openChain(theme, shelves);
    const { findings } = checkTheme(theme, chain, shelves, { purpose: 'submission' });
    const missingParent = chain.broken?.kind === 'missing' ? chain.broken.id : undefined;
    const { title } = theme.names;
    const summary = theme.text('summary') ?? '';
    return { review: { id: catalogueId(theme), title, summary, version: theme.text('version') ?? '0', findings, missingParent } };
  } catch (error) {
    if (error instanceof PioneroError) return { failure: [error.what, error.why].filter(Boolean).join(': ') };
    throw error;
  }
}

/** As many themes as one can build on, each on the next. */
const MAX_PARENTS = 16;

/** The parents of a theme, as far as they are in the catalogue. */
async function parentsOf(theme: Theme, input: ReviewInput): Promise<Theme[]> {
  const found = new Map<string, Theme>();
  for (let next: readonly Theme[] = [theme]; next.length > 0 && found.size < MAX_PARENTS;) {
    const named = next.flatMap((each) => each.parents.map((id) => catalogueId({ names: { id, vendor: each.parentVendor } })));
    next = [];
    // In another case, too: the check reports that then.
    for (const entry of input.accepted.filter(({ id }) => !found.has(id) && named.some((each) => isSameName(id, each)))) {
      const parent = await open(entry, input);
      found.set(entry.id, parent.theme);
      next = [...next, parent.theme];
    }
  }
  return [...found.values()];
}

/** @throws RefusedError when an archive is damaged or holds no theme */
async function open({ path, called }: ReviewedArchive, { folder, platform, platformFolder }: ReviewInput) {
  const platforms = () => [...shippedPlatforms(), ...platformsIn(platformFolder, platformFolder)];
  return openThemeArchive(path, { currentFolder: folder, platform, platforms, shelves: [], called });
}

/** The name of a theme in a catalogue: with its vendor where there are vendors. */
function catalogueId({ names: { id, vendor } }: Pick<Theme, 'names'>): string {
  return vendor === undefined ? id : `${vendor}.${id}`;
}

/** Case aside; a parent that is named without its vendor may be anyone's. */
function isSameName(id: string, named: string): boolean {
  const [low, wanted] = [id.toLowerCase(), named.toLowerCase()];
  return low === wanted || low.endsWith(`.${wanted}`);
}
