import { ConfigurationError } from '../errors.ts';
import { MemoryTree } from '../files/memory-tree.ts';
import { contractProblems } from '../platform/contract-problems.ts';
import { readPlatform } from '../platform/load.ts';
import type { Platform } from '../platform/platform.ts';
import { checkTheme, type Finding } from '../rules/engine/check.ts';
import type { Rule } from '../rules/rule.ts';
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
  for (let round = 0; ; round++) {
    const text = setting.write(learned);
    const platform = platformOf(text, setting);
    const refused = judgeThemes(platform, themes, setting.shelves);
    const claims = claimsIn(learned, refused, platform, themes);
    if (refused.length <= most || claims.length === 0 || round === MOST_ROUNDS) {
      const ids = new Set(refused.map(({ id }) => id));
      return { text, platform, taken: themes.map(({ id }) => id).filter((id) => !ids.has(id)), refused, middle: learned.middle, loosened };
    }
    const guilty = claims.filter(({ themes: blamed }) => blamed.size > most);
    // To say that a parent of the host's own serves a file takes nothing back.
    const served = claims.filter(({ claim }) => claim.name.startsWith('served '));
    const chosen = guilty.length > 0 ? guilty : served.length > 0 ? served : claims.slice(0, 1);
    for (const { claim } of chosen) {
      claim.loosen();
      loosened.push(claim.name);
    }
  }
}

function platformOf(text: string, { file, folder }: FitSetting): Platform {
  const platform = readPlatform(MemoryTree.of({ [file]: text }), file, file, folder);
  const problems = contractProblems(platform);
  if (problems.length > 0) throw new ConfigurationError({ what: `${file}: ${problems[0]?.message}`, problems });
  return platform;
}

/** The rules that judge what a line of a platform file says of themes; others judge what no such line decides. */
export function judgingRules(): readonly Rule[] {
  return RULES.filter(({ meta }) => JUDGING_RULES.has(meta.id));
}

/** The themes that a platform file refuses, by the rules that judge its lines. */
export function judgeThemes(platform: Platform, themes: readonly SampleTheme[], folders: readonly string[]): RefusedTheme[] {
  const shelves = new Shelves(platform, folders);
  const rules = judgingRules();
  return themes.flatMap(({ id, tree }) => {
    const { missing } = recognise(tree, platform, { id });
    if (missing !== undefined) return [{ id, missing, findings: [] }];
    const theme = new Theme(platform, tree, { id }, id);
    const { findings } = checkTheme(theme, openChain(theme, shelves), shelves, { rules, isForErrors: true });
    const errors = findings.filter(({ severity }) => severity === 'error');
    return errors.length === 0 ? [] : [{ id, findings: errors }];
  });
}

/** The lines that the findings come from, that which refuses most themes first. */
function claimsIn(
  learned: Learned,
  refused: readonly RefusedTheme[],
  platform: Platform,
  themes: readonly SampleTheme[],
): { claim: Claim; themes: Set<string> }[] {
  const byName = new Map<string, { claim: Claim; themes: Set<string> }>();
  for (const { id, findings } of refused) {
    const tree = themes.find((each) => each.id === id)?.tree;
    const parents = tree === undefined ? [] : new Theme(platform, tree, { id }, id).parents;
    for (const finding of findings) {
      const claim = claimOf(learned, finding, parents);
      if (claim === undefined) continue;
      const known = byName.get(claim.name) ?? { claim, themes: new Set() };
      known.themes.add(id);
      byName.set(claim.name, known);
    }
  }
  return [...byName.values()].sort((a, b) => b.themes.size - a.themes.size || a.claim.worth - b.claim.worth);
}
