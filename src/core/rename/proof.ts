import { DiskTree } from '../files/disk-tree.ts';
import type { Configuration } from '../configuration/configuration.ts';
import { beyondCounts, countFindings, type FindingCounts } from '../rules/baseline.ts';
import { checkOptionsOf, checkTheme, type CheckOptions, type Finding } from '../rules/check.ts';
import { RULES } from '../rules/rules.ts';
import { openChain } from '../theme/chain.ts';
import { Theme } from '../theme/theme.ts';
import type { ThemeRename } from './rename-theme.ts';
import { scanForLeftovers, type Leftover } from './second-scan.ts';

/** What shows that a rename is right. */
export interface RenameProof {
  /** What a second scan found that is neither kept nor unsure. */
  readonly leftovers: readonly Leftover[];
  /** Findings of `check` that the theme did not have before. */
  readonly newFindings: readonly Finding[];
}

/**
 * Proves a rename: on its plan before anything is written, and on the disk afterwards. It looks at the theme as it was when
 * it is made, because a rename in place leaves nothing of that.
 */
export class RenameProver {
  readonly #rename: ThemeRename;
  /** What the theme was told before, by the paths that its files have afterwards; of a clone only when it is asked for. */
  #before: FindingCounts | undefined;

  constructor(rename: ThemeRename) {
    this.#rename = rename;
    if (rename.plan.replaces !== undefined) this.#before = this.#countBefore();
  }

  #countBefore(): FindingCounts {
    const { theme: source, shelves, configuration } = this.#rename.source;
    // A theme of its own, so that the texts that rules read are not kept in memory until the rename is applied.
    const theme = new Theme(source.platform, source.tree, source.names, source.location);
    const moved = new Map(this.#rename.moves.map(({ from, to }) => [from, to]));
    const { findings } = checkTheme(theme, openChain(theme, shelves), shelves, checkOptions(configuration));
    return countFindings(findings, (file) => moved.get(file) ?? file);
  }

  provePlan(): RenameProof {
    return this.#prove(this.#rename.theme);
  }

  /** Looks at what lies on the disk after the plan was applied. */
  proveApplied(): RenameProof {
    const { theme, plan } = this.#rename;
    return this.#prove(new Theme(theme.platform, new DiskTree(plan.root), theme.names, theme.location));
  }

  #prove(theme: Theme): RenameProof {
    const { from, to, kept, unsure, clean } = this.#rename;
    return {
      leftovers: scanForLeftovers(theme.tree, from, to, [...kept, ...unsure], (path) => clean.has(path)),
      newFindings: this.#newFindings(theme),
    };
  }

  #newFindings(theme: Theme): Finding[] {
    const { shelves, source } = this.#rename;
    const { findings } = checkTheme(theme, openChain(theme, shelves), shelves, checkOptions(source.configuration));
    // Most themes have none, and then nobody needs to know what there was before.
    return findings.length === 0 ? [] : beyondCounts((this.#before ??= this.#countBefore()), findings);
  }
}

/** Rules that cannot tell one name from another say the same before and after; some of them read every file. */
function checkOptions(configuration: Configuration): CheckOptions {
  const options = checkOptionsOf(configuration);
  const blind = RULES.filter(({ meta }) => meta.isNameBlind === true).map(({ meta }) => [meta.id, 'off'] as const);
  return { ...options, severities: { ...options.severities, ...Object.fromEntries(blind) } };
}
