/** Pionero's public library: everything that the commands do, without an interface. */
export { applyPlan, type ApplyOptions } from './changes/apply.ts';
export { Journal, type JournalEntry } from './changes/journal.ts';
export { plannedTree, type ChangePlan, type Operation } from './changes/plan.ts';
export { findLastApplied, undoEntry, type UndoProposal } from './changes/undo.ts';
export { findConfiguration, type Configuration } from './configuration/configuration.ts';
export { findSyntax, syntaxNames } from './documents/syntaxes.ts';
export {
  ConfigurationError,
  FailedOperationError,
  PioneroError,
  RefusedError,
  UsageError,
  type ConfigurationProblem,
  type ErrorFacts,
} from './errors.ts';
export { openSession, type EditSession, type FindingsByFile } from './editor/session.ts';
export { DiskTree } from './files/disk-tree.ts';
export { UnreadableFileError, type FileEntry, type FileTree } from './files/file-tree.ts';
export { MemoryTree, type FileContent, type MemoryItem } from './files/memory-tree.ts';
export { judgePackage, type PackagePurpose } from './package/judge-package.ts';
export { planPapers, type MissingPapers, type Unwritten } from './package/papers.ts';
export { submissionParts, type SubmissionPart } from './package/submission.ts';
export { provePackage, type Proof } from './rehearsal/prove-package.ts';
export { thirdPartyIn, type ThirdParty } from './contents/third-party.ts';
export {
  beginPackage,
  changedMeanwhile,
  isPackageAsPlanned,
  planPackage,
  writePackage,
  type BegunPackage,
  type PackagePlan,
  type PackedTheme,
} from './package/pack-theme.ts';
export { ARCHIVE_FORMATS, readArchive, type ArchiveFormat } from './archives/archive-format.ts';
export { platformJsonSchema } from './platform/json-schema.ts';
export { loadPlatform, platformsIn, shippedPlatforms } from './platform/load.ts';
export { draftPlatform, guessesFor, guessName, type DraftRequest } from './learning/draft.ts';
export { extendPlatform, type ExtendedPlatform } from './learning/extend-platform.ts';
export { planFirstKit, type FirstKit } from './learning/first-kit.ts';
export { judgeThemes, type Fitted, type RefusedTheme } from './learning/fit.ts';
export { measurePlatform, type LineSupport, type MeasuredPlatform } from './learning/support.ts';
export type { SampleTheme } from './learning/theme-set.ts';
export { checkPlatform } from './scaffold/check-platform.ts';
export { judgeName, type NameVerdict, type Platform } from './platform/platform.ts';
export type { PlatformContract } from './platform/schema.ts';
export type { ThemeNames } from './names/full-name.ts';
export { planInstall, type InstallRequest, type InstallStep } from './sites/install-theme.ts';
export { rehearse, type Rehearsal, type RehearsalRequest } from './rehearsal/rehearse.ts';
export type { Decisions } from './rename/decisions.ts';
export { judgesPage } from './rename/judges-page.ts';
export { planClone, planRename, type RenameWishes, type ThemeRename } from './rename/rename-theme.ts';
export { RenameProver, type RenameProof } from './rename/proof.ts';
export { readRenamePlan, writeRenamePlan, type SavedRename } from './rename/plan-file.ts';
export { checkOptionsOf, checkTheme, type CheckOptions, type CheckResult, type Finding } from './rules/engine/check.ts';
export { checkWithin, type CheckWithin } from './rules/engine/check-within.ts';
export { type CheckedFolder } from './rules/engine/check-folders.ts';
export { openThemeArchive } from './theme/open-archive.ts';
export { planFixes, type PlannedFixes } from './rules/engine/fix.ts';
export type { Advice } from './rules/advice.ts';
export type { Fix, Report, Rule, RuleContext, RuleMeta, Severity } from './rules/rule.ts';
export { configurationJsonSchema, configurationTable } from './rules/engine/configuration-schema.ts';
export { rulesPage } from './rules/rules-page.ts';
export { RULES } from './rules/rules.ts';
export { defaultsOf as ruleDefaults } from './rules/engine/settings.ts';
export { checkKit, type KitProblem, type KitVerdict } from './scaffold/check-kit.ts';
export { chooseKit, findKit, listKits, type KitPlaces } from './scaffold/kits.ts';
export type { Kit } from './scaffold/kit.ts';
export { planKit, type NewKit } from './scaffold/make-kit.ts';
export { planNewTheme, type NewTheme, type NewThemeRequest } from './scaffold/new-theme.ts';
export { findDrift, hasDrifted, type Drift, type DriftedFile, type DriftState } from './lineage/drift.ts';
export { planHarvest, type Harvest, type HarvestRequest } from './lineage/harvest.ts';
export { mergeLines, type Conflict, type MergedPart } from './lineage/merge.ts';
export { planMerge, type MergeStep, type MergeWishes } from './lineage/merge-drift.ts';
export { Originals } from './lineage/originals.ts';
export { planDrop, planOverride, type Dropping, type Overriding } from './lineage/override.ts';
export type { Need, NeedAnswer } from './scaffold/needs.ts';
export { explainTrace, type Explanation } from './lineage/explain.ts';
export { traceTheme, type Trace } from './lineage/trace.ts';
export { applyTogether } from './changes/together.ts';
export { openChain, type Chain } from './theme/chain.ts';
export { choosePlatform, openThemeFolder, type OpenedTheme, type OpenOptions } from './theme/open.ts';
export { setFacts, type FactChange } from './facts/set-facts.ts';
export { bumpVersion, syncFacts, type Disagreement } from './facts/sync-facts.ts';
export { Shelves, type ShelvedTheme } from './theme/shelf.ts';
export { type Fact, type FactValue, type ThemeDocument } from './theme/documents.ts';
export { Theme } from './theme/theme.ts';
