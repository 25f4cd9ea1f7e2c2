import { ConfigurationError } from '../errors.ts';
import { MemoryTree } from '../files/memory-tree.ts';
import { contractProblems } from '../platform/contract-problems.ts';
import { readPlatform } from '../platform/load.ts';
import type { Platform } from '../platform/platform.ts';
import { checkTheme, type Finding } from '../rules/engine/check.ts';
import { RULES } from '../rules/rules.ts';
import { openChain } from '../theme/chain.ts';
import { recognise } from '../theme/recognise.ts';
import { Shelves } from '../theme/shelf.ts';
import { Theme } from '../theme/theme.ts';
import type { Learned } from './learned.ts';
import { claimOf, JUDGING_RULES, type Claim } from './loosen.ts';
import { ThemeSet, type SampleTheme } from './theme-set.ts';

/** A theme that the file does not take, with the lines that refuse it. */
export interface RefusedTheme {
  readonly id: string;
  /** The ids of its parents. */
  readonly parents: readonly string[];
  /** What recognition misses, else the findings. */
  readonly missing?: string | undefined;
  readonly findings: readonly Finding[];
}

/** A platform file that was tried on the themes that it was learned from. */
export interface Fitted {
  readonly text: string;
  readonly platform: Platform;
  readonly taken: readonly string[];
  readonly refused: readonly RefusedTheme[];
  /** The theme that is most like the others: a kit is best made of it. */
  readonly middle: string;
  /** The lines that were made to ask for less, since they refused more than the exceptions. */
  readonly loosened: readonly string[];
}

export interface FitSetting {
  /** How the file is called in messages, and the folder that it is for. */
  readonly file: string;
  readonly folder: string;
  /** The folders in which parents are looked for. */
  readonly shelves: readonly string[];
  write(learned: Learned): string;
}

/** More rounds than lines that can be loosened in turn are never needed. */
const MOST_ROUNDS = 40;

/**
 * Tries what was learned on the themes themselves, and loosens whatever refuses more of them than the exceptions.
 * @throws ConfigurationError when what is left cannot be read: then no line can be blamed
 */
export function fitToThemes(learned: Learned, themes: readonly SampleTheme[], setting: FitSetting): Fitted {
  const loosened: string[] = [];
  // Of two, neither is the odd one.
  const most = themes.length < 3 ? 0 : Math.max(1, ThemeSet.exceptions(themes.length));
  let tried = themes;
  for (let round = 0; ; round++) {
    const text = setting.write(learned);
    const platform = platformOf(text, setting);
    const refused = judgeThemes(platform, tried, setting.shelves);
    const claims = claimsIn(learned, refused);
    const isDone = refused.length <= most || claims.length === 0 || round >= MOST_ROUNDS;
    if (isDone && tried === themes) {
      const ids = new Set(refused.map(({ id }) => id));
      const taken = themes.map(({ id }) => id).filter((id) => !ids.has(id));
      return { text, platform, taken, refused, middle: learned.middle, loosened };
    }
    if (!isDone) loosen(claims, most, loosened);
    // A line that asks for less refuses no more themes than before: only in the end all are tried again.
    tried = isDone ? themes : themes.filter(({ id }) => refused.some((each) => each.id === id));
  }
}

/** Loosens the lines that refuse more than the exceptions; where there are none, those that cost nothing, else the one that is worth least. */
function loosen(claims: readonly BlamedClaim[], most: number, loosened: string[]): void {
  const guilty = claims.filter(({ themes }) => themes.size > most);
  // To say that a parent of the host's own serves a file takes nothing back.
  const served = claims.filter(({ claim }) => claim.name.startsWith('served '));
  for (const { claim } of guilty.length > 0 ? guilty : served.length > 0 ? served : claims.slice(0, 1)) {
    claim.loosen();
    loosened.push(claim.name);
  }
}

/** A line with the themes that it refuses. */
interface BlamedClaim {
  readonly claim: Claim;
  readonly themes: ReadonlySet<string>;
}

function platformOf(text: string, { file, folder }: FitSetting): Platform {
  const platform = readPlatform(MemoryTree.of({ [file]: text }), file, file, folder);
  const problems = contractProblems(platform);
  if (problems.length > 0) throw new ConfigurationError({ what: `${file}: ${problems[0]?.message}`, problems });
  return platform;
}

const JUDGING = RULES.filter(({ meta }) => JUDGING_RULES.has(meta.id));

/** A theme as a platform file sees it: what recognition misses, and the errors by the rules that judge what its lines say. */
export function judgeTheme({ id, tree }: SampleTheme, shelves: Shelves): RefusedTheme & { readonly theme: Theme } {
  const { platform } = shelves;
  const theme = new Theme(platform, tree, { id }, id);
  const { missing } = recognise(tree, platform, { id });
  const parents = theme.parents;
  if (missing !== undefined) return { id, theme, parents, missing, findings: [] };
  const { findings } = checkTheme(theme, openChain(theme, shelves), shelves, { rules: JUDGING, isForErrors: true });
  return { id, theme, parents, findings: findings.filter(({ severity }) => severity === 'error') };
}

/** The themes that a platform file refuses. */
export function judgeThemes(platform: Platform, themes: readonly SampleTheme[], folders: readonly string[]): RefusedTheme[] {
  const shelves = new Shelves(platform, folders);
  return themes.flatMap((sample) => {
    const { id, parents, missing, findings } = judgeTheme(sample, shelves);
    return missing === undefined && findings.length === 0 ? [] : [{ id, parents, missing, findings }];
  });
}

/** The lines that the findings come from, that which refuses most themes first. */
function claimsIn(learned: Learned, refused: readonly RefusedTheme[]): BlamedClaim[] {
  const byName = new Map<string, { claim: Claim; themes: Set<string> }>();
  for (const { id, parents, findings } of refused)
    for (const finding of findings) {
      const claim = claimOf(learned, finding, parents);
      if (claim === undefined) continue;
      const known = byName.get(claim.name) ?? { claim, themes: new Set() };
      known.themes.add(id);
      byName.set(claim.name, known);
    }
  return [...byName.values()].sort((a, b) => b.themes.size - a.themes.size || a.claim.worth - b.claim.worth);
}
