import { DiskTree } from '../files/disk-tree.ts';
import type { Configuration } from '../configuration/configuration.ts';
import { checkTheme, type CheckOptions, type Finding } from '../rules/check.ts';
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
  /** How often each rule had something to say of each file, by its path afterwards. */
  readonly #before: ReadonlyMap<string, number>;

  constructor(rename: ThemeRename) {
    this.#rename = rename;
    const { theme: source, shelves, configuration } = rename.source;
    // A theme of its own, so that the texts that rules read are not kept in memory until the rename is applied.
    const theme = new Theme(source.platform, source.tree, source.names, source.location);
    const moved = new Map(rename.moves.map(({ from, to }) => [from, to]));
    const before = new Map<string, number>();
    for (const { rule, file } of checkTheme(theme, openChain(theme, shelves), shelves, checkOptions(configuration)).findings) {
      const key = `${rule} ${moved.get(file) ?? file}`;
      before.set(key, (before.get(key) ?? 0) + 1);
    }
    this.#before = before;
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
    const { from, to, kept, unsure } = this.#rename;
    return { leftovers: scanForLeftovers(theme.tree, from, to, [...kept, ...unsure]), newFindings: this.#newFindings(theme) };
  }

  /** Findings are told apart by rule and file: their words and lines change with the name. */
  #newFindings(theme: Theme): Finding[] {
    const { shelves, source } = this.#rename;
    const left = new Map(this.#before);
    const { findings } = checkTheme(theme, openChain(theme, shelves), shelves, checkOptions(source.configuration));
    return findings.filter(({ rule, file }) => {
      const key = `${rule} ${file}`;
      const known = left.get(key) ?? 0;
      left.set(key, known - 1);
      return known <= 0;
    });
  }
}

/** Rules that cannot tell one name from another say the same before and after; some of them read every file. */
function checkOptions({ rules, accept }: Configuration): CheckOptions {
  const blind = RULES.filter(({ meta }) => meta.isNameBlind === true).map(({ meta }) => [meta.id, 'off'] as const);
  return { severities: { ...rules, ...Object.fromEntries(blind) }, accept };
}
