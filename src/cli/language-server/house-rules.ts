import { findConfiguration } from '../../core/configuration/configuration.ts';
import type { EditorWorkspace } from '../../core/editor/editor-workspace.ts';
import { ConfigurationError, type ConfigurationProblem } from '../../core/errors.ts';
import { readIfThere } from '../../core/files/disk.ts';
import { beyondBaseline, longKeyOf, readBaseline } from '../../core/rules/engine/baseline.ts';
import type { Baseline } from '../../core/rules/engine/baseline-schema.ts';
import type { Finding } from '../../core/rules/engine/check.ts';
import { loadOwnRules } from '../../core/rules/engine/own-rules.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import { readAgreements } from '../agreement.ts';
import type { Context } from '../command.ts';

/** The settings around themes: extra rules, and findings that are known already. */
export class HouseRules {
  readonly #context: Context;
  readonly #workspace: EditorWorkspace;
  /** By file; undefined: it cannot be read. */
  readonly #baselines = new Map<string, Baseline | undefined>();

  constructor(context: Context, workspace: EditorWorkspace) {
    this.#context = context;
    this.#workspace = workspace;
  }

  /** Forgets what files said: they may say something else now. */
  forget(): void {
    this.#baselines.clear();
  }

  /** Loads the rules that the user agreed to run. @returns why others are not run */
  async load({ configuration, folder }: OpenedTheme): Promise<readonly ConfigurationProblem[]> {
    if (configuration['rule-files'].length === 0) return [];
    try {
      await loadOwnRules(configuration, folder, this.#workspace.homeOf(folder), new Set(readAgreements(this.#context)));
      return [];
    } catch (error) {
      if (error instanceof ConfigurationError) return error.problems;
      throw error;
    }
  }

  /** The findings that the baseline of the folder that people have open does not know. */
  beyondKnown({ theme, folder }: OpenedTheme, findings: readonly Finding[]): readonly Finding[] {
    const { baseline: file } = findConfiguration(this.#workspace.homeOf(folder));
    const baseline = file === undefined ? undefined : this.#read(file);
    if (baseline === undefined) return findings;
    const { id, vendor } = theme.names;
    const long = longKeyOf({ id, vendor, platform: theme.platform.contract.name });
    return beyondBaseline(baseline, Object.hasOwn(baseline.themes, long) ? long : id, findings);
  }

  #read(file: string): Baseline | undefined {
    if (!this.#baselines.has(file)) this.#baselines.set(file, readBaselineAt(file));
    return this.#baselines.get(file);
  }
}

/** Undefined for one that cannot be read: a check says why. */
function readBaselineAt(file: string): Baseline | undefined {
  try {
    const bytes = readIfThere(file);
    return bytes === undefined ? undefined : readBaseline(bytes.toString('utf8'), file);
  } catch (error) {
    if (error instanceof ConfigurationError) return undefined;
    throw error;
  }
}
