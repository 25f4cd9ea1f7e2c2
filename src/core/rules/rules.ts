import { acceptUnused } from './acceptances/accept-unused.ts';
import { assetAbsolute } from './assets/asset-absolute.ts';
import { assetImport } from './assets/asset-import.ts';
import { assetMissing } from './assets/asset-missing.ts';
import { assetRemote } from './assets/asset-remote.ts';
import { assetShadows } from './assets/asset-shadows.ts';
import { assetUnused } from './assets/asset-unused.ts';
import { mainSheet } from './assets/main-sheet.ts';
import { imageCut } from './images/image-cut.ts';
import { codeSyntax } from './code/code-syntax.ts';
import { bundleUnknown } from './bundles/bundle-unknown.ts';
import { bundleUnused } from './bundles/bundle-unused.ts';
import { documentMissing } from './documents/document-missing.ts';
import { documentSyntax } from './documents/document-syntax.ts';
import { fieldElsewhere } from './documents/field-elsewhere.ts';
import { fieldTheme } from './documents/field-theme.ts';
import { stringsKey } from './strings/strings-key.ts';
import { fieldMarker } from './documents/field-marker.ts';
import { fieldMissing } from './documents/field-missing.ts';
import { fieldPath } from './documents/field-path.ts';
import { fieldQuoting } from './documents/field-quoting.ts';
import { fieldReplaced } from './documents/field-replaced.ts';
import { fieldSection } from './documents/field-section.ts';
import { fieldType } from './documents/field-type.ts';
import { fieldUnknown } from './documents/field-unknown.ts';
import { factAgrees } from './facts/fact-agrees.ts';
import { idAgrees } from './facts/id-agrees.ts';
import { idGrammar } from './facts/id-grammar.ts';
import { rangeReleases } from './facts/range-releases.ts';
import { versionChangelog } from './facts/version-changelog.ts';
import { versionTag } from './facts/version-tag.ts';
import { fileCase } from './files/file-case.ts';
import { fileEmpty } from './files/file-empty.ts';
import { fileExecutable } from './files/file-executable.ts';
import { fileForbidden } from './files/file-forbidden.ts';
import { fileMissing } from './files/file-missing.ts';
import { fileMoved } from './files/file-moved.ts';
import { filePortable } from './files/file-portable.ts';
import { fileUnreadable } from './files/file-unreadable.ts';
import { siteAsset, siteCommand, siteFailure, sitePage } from './files/site-rules.ts';
import { themeUnopened } from './files/theme-unopened.ts';
import { linkBroken } from './files/link-broken.ts';
import { begunRename } from './identifiers/begun-rename.ts';
import { ownName } from './identifiers/own-name.ts';
import { identifierMisspelt } from './identifiers/identifier-misspelt.ts';
import { identifierOtherName } from './identifiers/identifier-other-name.ts';
import { identifierPrefix } from './identifiers/identifier-prefix.ts';
import { identifierUnique } from './identifiers/identifier-unique.ts';
import { imageFormat } from './images/image-format.ts';
import { imageMissing } from './images/image-missing.ts';
import { imageSizeRule } from './images/image-size.ts';
import { parentMissing } from './parents/parent-missing.ts';
import { overrideRecord } from './parents/override-record.ts';
import { parentReleases } from './parents/parent-releases.ts';
import { parentVersion } from './parents/parent-version.ts';
import { parentStyles } from './parents/parent-styles.ts';
import { regionUndeclared } from './regions/region-undeclared.ts';
import { regionUnprinted } from './regions/region-unprinted.ts';
import type { Rule } from './rule.ts';
import { stringsIncomplete } from './strings/strings-incomplete.ts';
import { stringsLanguage } from './strings/strings-language.ts';
import { stringsName } from './strings/strings-name.ts';
import { licenseTextFits } from './licenses/license-text.ts';
import { licenseUnknown } from './licenses/license-unknown.ts';
import { submissionContents } from './submission/submission-contents.ts';
import { partialCircle } from './templates/partial-circle.ts';
import { partialUnused } from './templates/partial-unused.ts';
import { templateContent } from './templates/template-content.ts';
import { templateFragment } from './templates/template-fragment.ts';
import { templatePartial } from './templates/template-partial.ts';
import { templateRole } from './templates/template-role.ts';
import { templateSyntax } from './templates/template-syntax.ts';
import { stringsUndefined } from './strings/strings-undefined.ts';
import { assetCopy } from './assets/asset-copy.ts';
import { fieldTwice } from './documents/field-twice.ts';
import { titleUnique } from './facts/title-unique.ts';
import { kitFolder } from './files/kit-folder.ts';
import { textConflict } from './text/text-conflict.ts';
import { textDeleteLine } from './text/text-delete-line.ts';
import { textPlaceholder } from './text/text-placeholder.ts';
import { textEncoding } from './text/text-encoding.ts';
import { textLeftover } from './text/text-leftover.ts';
import { textLineEnds } from './text/text-line-ends.ts';
import { textMachinePath } from './text/text-machine-path.ts';
import { textSecret } from './text/text-secret.ts';

/** Every rule. A new one is entered here and nowhere else. */
export const RULES: readonly Rule[] = [
  acceptUnused,
  documentMissing,
  documentSyntax,
  fieldMissing,
  fieldUnknown,
  fieldType,
  fieldPath,
  fieldSection,
  fieldTwice,
  fieldMarker,
  fieldElsewhere,
  fieldTheme,
  fieldReplaced,
  fieldQuoting,
  idGrammar,
  idAgrees,
  factAgrees,
  titleUnique,
  rangeReleases,
  versionChangelog,
  versionTag,
  parentMissing,
  parentStyles,
  parentVersion,
  parentReleases,
  overrideRecord,
  fileMissing,
  fileEmpty,
  fileUnreadable,
  themeUnopened,
  siteCommand,
  siteFailure,
  sitePage,
  siteAsset,
  linkBroken,
  fileMoved,
  fileForbidden,
  kitFolder,
  fileCase,
  filePortable,
  fileExecutable,
  templateSyntax,
  templateFragment,
  templatePartial,
  partialCircle,
  partialUnused,
  templateContent,
  templateRole,
  regionUndeclared,
  regionUnprinted,
  bundleUnknown,
  bundleUnused,
  assetMissing,
  assetAbsolute,
  assetImport,
  assetShadows,
  assetCopy,
  assetRemote,
  assetUnused,
  mainSheet,
  imageCut,
  codeSyntax,
  stringsLanguage,
  stringsName,
  stringsIncomplete,
  stringsUndefined,
  stringsKey,
  imageMissing,
  imageSizeRule,
  imageFormat,
  identifierPrefix,
  identifierUnique,
  begunRename,
  identifierMisspelt,
  identifierOtherName,
  ownName,
  textEncoding,
  textLineEnds,
  textSecret,
  textLeftover,
  textPlaceholder,
  textConflict,
  textDeleteLine,
  textMachinePath,
  licenseTextFits,
  licenseUnknown,
  submissionContents,
];
