import { basename, resolve } from 'node:path';
import { ConfigurationError, PioneroError } from '../../errors.ts';
import { releaseNamed } from '../../platform/platform.ts';
import { DiskCache } from '../../files/disk-cache.ts';
import { pathFrom } from '../../files/paths.ts';
import { choosePackageContents, themeInPackage } from '../../contents/package-contents.ts';
import { openChain } from '../../theme/chain.ts';
import { themesToOpen, type FoldersToOpen } from '../../theme/folders-to-open.ts';
import type { OpenedTheme } from '../../theme/open.ts';
import { plainFacts } from '../../facts/plain-facts.ts';
import { advise } from '../advice.ts';
import { checkOptionsOf, checkTheme, type CheckOptions, type CheckResult, type Finding } from './check.ts';
import { basisOf, configurationsOf, NO_BASIS, type CheckBasis } from './check-basis.ts';
import { CheckCache } from './check-cache.ts';
import { themeUnopened } from '../files/theme-unopened.ts';
import { loadOwnRules, rulesUnder, type CopiedFolder } from './own-rules.ts';
import { ruleNamed } from './rule-named.ts';

/** Themes to be checked, and how. Plain data: it can be sent to another thread. */
export interface FoldersToCheck extends FoldersToOpen {
  /** The digests of the rule modules that the user agreed to run. */
  readonly agreed: readonly string[];
  /** When the folders lie in a copy of another one. */
  readonly copy?: CopiedFolder | undefined;
  readonly purpose: CheckOptions['purpose'];
  /** The release of the host to judge by; those that each theme says it is for when left out. */
  readonly release?: string | undefined;
  /** The ids of rules that are asked though a configuration switches them off. */
  readonly preview?: readonly string[] | undefined;
  /** Whether a theme that cannot be opened ends the check instead of becoming a finding. */
  readonly isThrowing?: boolean | undefined;
  /** Where findings are kept from one run to the next, and what tells one build of Pionero from another; not kept when left out. */
  readonly cache?: { readonly folder: string; readonly build: string } | undefined;
  /** Whether someone asks later what a check has looked at, all of it: {@link CheckedFolder.basis}. */
  readonly needsBasis?: boolean | undefined;
  /** Whether only errors are looked for, in each theme as its package will hold it. */
  readonly asPacked?: boolean | undefined;
}

/** What `check` has to say of one theme, as plain data. */
export interface CheckedFolder {
  readonly folder: string;
  readonly id: string;
  readonly platform: { readonly name: string; readonly title: string };
  readonly facts: Readonly<Record<string, unknown>>;
  readonly reasons: readonly string[];
  readonly result: CheckResult;
  readonly basis: CheckBasis;
  /** Of an archive: what was not unpacked. */
  readonly leftBehind?: readonly string[] | undefined;
  /** Set when the theme could not be opened or its configuration is wrong: why. */
  /** Of an entry that is about a file around themes, and no theme: the ids of the themes that are not checked because of it. */
  readonly standsFor?: readonly string[] | undefined;
  readonly failure?: { readonly code: PioneroError['code']; readonly what: string; readonly details: readonly string[] } | undefined;
}

/**
 * Checks themes one after another. One that cannot be opened, or has a wrong configuration, has that as its finding, and the
 * others are checked all the same.
 */
export async function checkFolders(input: FoldersToCheck, tell: (done: number) => void = () => {}): Promise<CheckedFolder[]> {
  const checked: CheckedFolder[] = [];
  const cache = input.cache === undefined ? undefined : new CheckCache(new DiskCache(input.cache.folder), input.cache.build);
  for (const { path, open } of themesToOpen(input)) {
    const check = async (): Promise<CheckedFolder> => checkOpened(await open(), input, cache);
    checked.push(input.isThrowing === true ? await check() : await checkedOrFailed(path, check));
    tell(checked.length);
  }
  return checked;
}

/**
 * Checks a theme that is opened.
 * @throws ConfigurationError when its configuration is wrong
 * @throws UsageError when a rule that is to be tried does not exist
 */
export async function checkOpened(
  opened: OpenedTheme,
  {
    purpose,
    release,
    currentFolder,
    agreed,
    copy,
    needsBasis = true,
    preview = [],
    asPacked = false,
  }: Omit<FoldersToCheck, 'folders' | 'shelves' | 'platform'>,
  cache?: CheckCache,
): Promise<CheckedFolder> {
  const { shelves, configuration, reasons, folder } = opened;
  const { theme, chain } = asPacked ? inPackage(opened) : opened;
  const { name, title } = theme.platform.contract;
  await loadOwnRules(configuration, folder, currentFolder, new Set(agreed), copy);
  const basis = needsBasis ? basisOf(chain, shelves, configuration) : { ...NO_BASIS, configurations: configurationsOf(configuration) };
  for (const rule of preview) ruleNamed(rulesUnder(configuration), rule);
  const options = withPreview(checkOptionsOf(configuration, purpose), preview);
  const releases = release === undefined ? undefined : [releaseNamed(theme.platform, release)];
  const check = (): CheckResult => checkTheme(theme, chain, shelves, { ...options, releases, isForErrors: asPacked });
  const result = cache === undefined || releases !== undefined || preview.length > 0 ? check() : cache.resultOf(opened, purpose, check);
  const judged = releases === undefined ? title : `${title} ${releases.join(', ')}`;
  return {
    folder,
    id: theme.names.id,
    platform: { name, title: judged },
    facts: plainFacts(theme),
    reasons,
    result,
    basis,
    leftBehind: opened.leftBehind,
  };
}

function inPackage({ theme, shelves, configuration }: OpenedTheme): Pick<OpenedTheme, 'theme' | 'chain'> {
  const packed = themeInPackage(theme, choosePackageContents(theme, configuration.pack.exclude));
  return { theme: packed, chain: openChain(packed, shelves) };
}

/** The same with some rules switched on. */
function withPreview(options: CheckOptions, preview: readonly string[]): CheckOptions {
  const severities = Object.entries(options.severities ?? {}).filter(([rule, severity]) => severity !== 'off' || !preview.includes(rule));
  return preview.length === 0 ? options : { ...options, severities: Object.fromEntries(severities) };
}

/** The result of a check; or, when it cannot be made, a finding that says why. @param folder absolute */
export async function checkedOrFailed(folder: string, check: () => Promise<CheckedFolder>): Promise<CheckedFolder> {
  try {
    return await check();
  } catch (error) {
    if (error instanceof PioneroError) return failedCheck(folder, error);
    throw error;
  }
}

/** The stand-in for the check of a theme that could not be opened. @param folder absolute */
export function failedCheck(folder: string, error: PioneroError): CheckedFolder {
  const common = {
    rule: themeUnopened.meta.id,
    severity: themeUnopened.meta.severity,
    why: themeUnopened.meta.why,
    isRefusal: true,
    isSeen: false,
    length: 0,
  };
  const hint = error.hint === undefined ? undefined : advise('as-read', { text: error.hint });
  const unopened = (): Finding => ({
    ...common,
    file: '',
    line: 1,
    column: 1,
    message: error.why === undefined ? error.what : `${error.what}: ${error.why}`,
    code: 'unopened',
    args: { what: error.what },
    hint,
  });
  const problems = error instanceof ConfigurationError ? error.problems : [];
  const findings = problems.map(({ file, line, column, message, sourceLine }): Finding => ({
    ...common,
    file: pathFrom(folder, resolve(folder, file)),
    line,
    column,
    message,
    code: 'configuration',
    args: { what: message },
    sourceLine,
  }));
  return {
    folder,
    id: basename(folder),
    platform: { name: '', title: '' },
    facts: {},
    reasons: [],
    result: { findings: findings.length === 0 ? [unopened()] : findings, rules: 0, files: 0, accepted: 0 },
    basis: { ...NO_BASIS, folders: [folder] },
    failure: { code: error.code, what: error.what, details: [...(error.why === undefined ? [] : [error.why]), ...error.details] },
  };
}
