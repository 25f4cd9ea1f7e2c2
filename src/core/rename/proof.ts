import type { FileEntry } from '../files/file-tree.ts';
import type { Configuration } from '../configuration/configuration.ts';
import { beyondCounts, countFindings, type FindingCounts } from '../rules/engine/baseline.ts';
import { checkOptionsOf, checkTheme, type CheckOptions, type Finding } from '../rules/engine/check.ts';
import { isBreaking } from '../rules/engine/errors-brought.ts';
import { RULES } from '../rules/rules.ts';
import { openChain } from '../theme/chain.ts';
import { treeAtPlace } from '../theme/place.ts';
import { Theme } from '../theme/theme.ts';
import type { Breakage } from './breakage.ts';
import type { ThemeRename } from './rename-theme.ts';
import { scanForLeftovers, type Leftover } from './second-scan.ts';

/** What shows that a rename is right. */
export interface RenameProof {
  /** The findings of a second scan that are neither kept nor unsure. */
  readonly leftovers: readonly Leftover[];
  /** The places that the rename itself would break. */
  readonly broken: readonly Breakage[];
  /** Findings of `check` that the theme did not have before. */
  readonly newFindings: readonly Finding[];
}

/** Proves a rename: on its plan before anything is written, and on the disk afterward. */
export class RenameProver {
  readonly #rename: ThemeRename;
  /** The findings of the theme as it was, by the paths that its files have afterward; counted when the plan has any. */
  #before: FindingCounts | undefined;

  constructor(rename: ThemeRename) {
    this.#rename = rename;
  }

  /** @param found what was found afterward: rules that found nothing need not be asked of what was */
  #countBefore(found: readonly Finding[]): FindingCounts {
    const { theme: source, shelves, configuration } = this.#rename.source;
    // A theme of its own, so that the texts that rules read are not kept in memory until the rename is applied.
    const theme = new Theme(source.platform, source.tree, source.names, source.location);
    const moved = new Map(this.#rename.moves.map(({ from, to }) => [from, to]));
    const { findings } = checkTheme(theme, openChain(theme, shelves), shelves, onlyRulesOf(found, checkOptions(configuration)));
    return countFindings(findings, (file) => moved.get(file) ?? file);
  }

  /** To be called before the plan is applied: a rename in place leaves nothing to compare with. */
  provePlan(): RenameProof {
    const { theme } = this.#rename;
    const findings = this.#findings(theme);
    // Most themes have none, and then nobody needs to know what there was before.
    const newFindings = findings.length === 0 ? [] : beyondCounts((this.#before ??= this.#countBefore(findings)), findings);
    return { leftovers: this.#leftovers(theme), broken: this.#rename.broken, newFindings };
  }

  /**
   * Looks at what lies on the disk after the plan was applied. The plan is not checked again: where the disk has what the
   * plan says, `check` has to say what it said of the plan.
   */
  proveApplied(planned: RenameProof): RenameProof {
    const { theme, plan } = this.#rename;
    const written = new Theme(theme.platform, treeAtPlace(theme.platform, plan.root), theme.names, theme.location);
    const isAsPlanned =
      written.tree.entries.length === theme.tree.entries.length && written.tree.entries.every((entry) => isSame(entry, theme));
    return {
      leftovers: this.#leftovers(written),
      broken: planned.broken,
      newFindings: isAsPlanned ? planned.newFindings : beyondCounts(this.#before ?? {}, this.#findings(written)),
    };
  }

  #leftovers({ tree }: Theme): Leftover[] {
    const { from, to, kept, unsure, clean } = this.#rename;
    return scanForLeftovers(tree, from, to, [...kept, ...unsure], (path) => clean.has(path));
  }

  #findings(theme: Theme): readonly Finding[] {
    const { shelves, source } = this.#rename;
    return checkTheme(theme, openChain(theme, shelves), shelves, checkOptions(source.configuration)).findings;
  }
}

/** Whether a proof holds: nothing of the old name is unaccounted for, nothing falls apart, and no error is new. */
export function isSound({ leftovers, broken, newFindings }: RenameProof): boolean {
  return leftovers.length === 0 && broken.length === 0 && !newFindings.some(isBreaking);
}

function isSame({ path, kind, size, target }: FileEntry, { tree }: Theme): boolean {
  const entry = tree.get(path);
  return entry?.kind === kind && (kind !== 'file' || entry.size === size) && entry.target === target;
}

/**
 * Rules that cannot tell one name from another say the same before and after; some of them read every file. Those that look for names that
 * are left have nothing to say beside the second scan.
 */
function checkOptions(configuration: Configuration): CheckOptions {
  const options = checkOptionsOf(configuration);
  const blind = RULES.filter(({ meta }) => meta.isNameBlind === true || meta.isOfLeftNames === true).map(
    ({ meta }) => [meta.id, 'off'] as const,
  );
  return { ...options, severities: { ...options.severities, ...Object.fromEntries(blind) } };
}

/** The options with which no rules are asked but those that found something. */
function onlyRulesOf(found: readonly Finding[], options: CheckOptions): CheckOptions {
  const finders = new Set(found.map(({ rule }) => rule));
  const rules = options.rules ?? RULES;
  // A rule that looks at all findings needs all of them.
  if (rules.some((rule) => finders.has(rule.meta.id) && (rule.meta.needsAll === true || rule.after !== undefined))) return options;
  const others = rules.flatMap(({ meta }) => (finders.has(meta.id) ? [] : [[meta.id, 'off'] as const]));
  return { ...options, severities: { ...options.severities, ...Object.fromEntries(others) } };
}
