import { placeOfFolder } from '../theme/place.ts';
import { PioneroError } from '../errors.ts';
import { judgeName, type Platform } from '../platform/platform.ts';
import type { Leftover } from '../rename/second-scan.ts';
import type { Finding } from '../rules/engine/check.ts';
import { Shelves } from '../theme/shelf.ts';
import { listKits } from './kits.ts';
import type { Kit } from './kit.ts';
import { planNewTheme } from './new-theme.ts';

/** Something wrong with a theme that was made of a kit. */
export interface KitProblem {
  /** The name that was tried, and the parts that were left out. */
  readonly id: string;
  readonly without: readonly string[];
  readonly problem: Finding | Leftover | { readonly what: string };
}

export interface KitVerdict {
  readonly kit: Kit;
  /** How many themes were made of it. */
  readonly tried: number;
  readonly problems: readonly KitProblem[];
}

/** Names that are short, common, long, close to files' names, or made of several words and digits. */
const AWKWARD_IDS = [
  'sol',
  'main',
  'page',
  'kit',
  'theme',
  'content',
  'css',
  'a1b2',
  'cumbre-sur',
  'cumbre_sur',
  'menu',
  'paso2',
  'x'.repeat(18),
] as const;

/** Titles that need care in every syntax. */
const AWKWARD_TITLES = [undefined, 'Rock & Ice: "North" <Face>', "L'Aiguille #1", '1.10', 'no', '- x', 'Ñandú {x} \\ $y'] as const;

/**
 * Makes themes of a kit under a dozen awkward names, with all parts and without each of them, and checks every one:
 * it must have no findings, and nothing of the kit's name. Writes nothing.
 */
export function checkKit(kit: Kit, shelves: readonly string[]): KitVerdict {
  const { platform } = kit.theme;
  const around = new Shelves(platform, [
    ...shelves,
    ...(kit.parentFolder === undefined ? [] : [placeOfFolder(platform, kit.parentFolder).shelf]),
    ...listKits({ platform }).map((each) => placeOfFolder(platform, each.theme.location).shelf),
  ]);
  const own = kit.parentFolder === undefined ? undefined : placeOfFolder(platform, kit.parentFolder).names.id;
  const parent = kit.isChild
    ? (own ??
      kit.theme.parents.find((id) => around.find(id) !== undefined) ??
      around.list().find((each) => each.folder !== kit.theme.location && !around.open(each).isChild)?.names.id)
    : undefined;
  const problems: KitProblem[] = [];
  let tried = 0;
  // A name that a theme has already is not tried.
  const free = awkwardIds(platform).filter((id) => around.find(id) === undefined);
  for (const [i, id] of free.entries()) {
    for (const without of [[], ...kit.parts.map((part) => [part.name])]) {
      tried++;
      const title = AWKWARD_TITLES[i % AWKWARD_TITLES.length];
      problems.push(...tryOne(kit, { id, title, parent, without, shelves: around }).map((problem) => ({ id, without, problem })));
    }
  }
  return { kit, tried, problems };
}

/** A dozen names that the platform's grammar takes: as they are, or as it would have them. */
function awkwardIds(platform: Platform): string[] {
  const ids = AWKWARD_IDS.flatMap((id) => {
    const verdict = judgeName(id, platform.contract.id);
    return verdict === undefined ? [id] : (verdict.suggestion ?? []);
  });
  return [...new Set(ids)];
}

interface Trial {
  readonly id: string;
  readonly title: string | undefined;
  readonly parent: string | undefined;
  readonly without: readonly string[];
  readonly shelves: Shelves;
}

function tryOne(kit: Kit, { id, title, parent, without, shelves }: Trial): KitProblem['problem'][] {
  const { platform } = kit.theme;
  const vendor = platform.contract.vendor === undefined ? undefined : 'Wardens';
  const kitNames = kit.names.map(({ text }) => text);
  try {
    const made = planNewTheme({ platform, kit, id, title, vendor, parent, without, kitNames, facts: {}, shelves, into: '/nowhere' });
    return [...made.findings, ...made.leftovers()];
  } catch (error) {
    if (error instanceof PioneroError) return [{ what: error.what }];
    throw error;
  }
}
