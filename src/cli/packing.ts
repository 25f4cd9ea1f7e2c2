import { setFlagsFromString } from 'node:v8';
import { FailedOperationError, RefusedError, UsageError } from '../core/errors.ts';
import { streamOutput } from '../core/changes/write-output.ts';
import { UnreadableFileError } from '../core/files/file-tree.ts';
import { choosePackageContents, themeInPackage, type PackageContents } from '../core/contents/package-contents.ts';
import { judgePackage, type PackagePurpose } from '../core/package/judge-package.ts';
import { ARCHIVE_FORMATS, formatOfName } from '../core/archives/archive-format.ts';
import {
  beginPackage,
  changedMeanwhile,
  isPackageAsPlanned,
  writePackage,
  type BegunPackage,
  type PackagePlan,
  type PackedTheme,
} from '../core/package/pack-theme.ts';
import { provePackage, type Proof } from '../core/rehearsal/prove-package.ts';
import { checkOptionsOf, checkTheme, type CheckResult, type Finding } from '../core/rules/engine/check.ts';
import type { OpenedTheme } from '../core/theme/open.ts';
import { openChain } from '../core/theme/chain.ts';
import type { Context } from './command.ts';
import { findingsText, firstOfEach, headline, MOST_OF_A_RULE, moreText } from './output/findings-text.ts';
import { count } from '../core/text/sentence.ts';

/** How themes are packed. */
export interface PackWishes {
  readonly for: PackagePurpose;
  readonly force: boolean;
  /** Whether the archive is unpacked, checked and rehearsed before it is put in its place. */
  readonly prove: boolean;
  /** Threads that work at the same time; as many as the machine has when left out. */
  readonly jobs?: number | undefined;
}

/** A package, and the findings from trying it. */
export interface PackedAndProved {
  readonly packed: PackedTheme;
  readonly proof?: Proof | undefined;
}

/**
 * Does what goes before writing a package, its check, while workers begin to pack, where these are worth their start.
 * @throws RefusedError when a file of the theme cannot be read, or changes meanwhile
 */
export async function begunWhile<T>(
  plan: PackagePlan,
  { jobs }: Pick<PackWishes, 'jobs'>,
  work: (begun: BegunPackage | undefined) => Promise<T>,
): Promise<T> {
  const begun = beginPackage(plan, jobs);
  // Each thread needs as much: memory is collected when half more is in use, not when twice as much is.
  if (begun !== undefined) setFlagsFromString('--heap-growing-percent=50');
  try {
    return await readable(async () => work(begun));
  } finally {
    await begun?.end();
  }
}

/** Packs without writing anything. @throws RefusedError when the package is not what it is for */
export async function tryPackage(
  plan: PackagePlan,
  wishes: Pick<PackWishes, 'for' | 'force'>,
  begun: BegunPackage | undefined,
): Promise<PackedTheme> {
  const would = await writePackage(plan, async () => undefined, begun);
  judgeFor(plan, wishes)(would);
  return would;
}

/** @throws RefusedError when the package is not what it is for */
function judgeFor(plan: PackagePlan, options: Pick<PackWishes, 'for' | 'force'>): (packed: PackedTheme) => void {
  return (packed) => {
    const problems = judgePackage(plan, packed, options.for);
    if (problems.length === 0 || options.force) return;
    throw new RefusedError({ what: `the package would be sent back: ${problems.join('; ')}`, hint: 'fix it, or use --force' });
  };
}

/** A theme, or shared files, that must be on the host beside a package. */
export interface Need {
  readonly kind: 'parent' | 'commons';
  readonly id: string;
  readonly version: string | null;
}

export function needsOf({ chain }: OpenedTheme): Need[] {
  return chain.themes.slice(1).map((theme) => ({
    kind: chain.commons.has(theme) ? 'commons' : 'parent',
    id: theme.names.id,
    version: theme.text('version') ?? null,
  }));
}

export function needText({ kind, id, version }: Need): string {
  return `${id}${version === null ? '' : ` ${version}`}${kind === 'commons' ? ' (shared files)' : ''}`;
}

/** The time that all entries get, as builds agree on it (SOURCE_DATE_EPOCH, seconds since 1970). @throws UsageError when it is not one */
export function timeWanted({ io }: Context): number {
  const wanted = io.env['SOURCE_DATE_EPOCH'];
  if (wanted === undefined || wanted === '') return 0;
  if (/^\d{1,11}$/.test(wanted)) return Number(wanted) * 1000;
  throw new UsageError({
    what: `SOURCE_DATE_EPOCH is “${wanted}”`,
    why: 'it is a number of seconds since 1970',
    hint: 'set it to one, or leave it out',
  });
}

/** The name of the archive says its format, too. @throws UsageError when it says none, or another one than --as */
export function formatWanted(out: string | undefined, as: string | undefined): string | undefined {
  if (out === undefined) return as;
  const named = formatOfName(out);
  const endings = ARCHIVE_FORMATS.flatMap((format) => format.endings).join(', ');
  if (named === undefined)
    throw new UsageError({
      what: `the name ${out} does not say which kind of archive it is`,
      hint: `end it with one of ${endings}, or a folder’s with /`,
    });
  if (as !== undefined && as !== named)
    throw new UsageError({
      what: `--as ${as} and the name ${out} contradict each other`,
      hint: 'leave --as out, or give the file another ending',
    });
  return named;
}

/**
 * Writes the archive beside its place, reads it back, tries it where that is wished, and puts it there when it is what was planned.
 * @throws RefusedError when the package would be sent back, or the host does not take what comes out of it
 */
export async function writeArchive(
  context: Context,
  { shelves, configuration }: Pick<OpenedTheme, 'shelves' | 'configuration'>,
  plan: PackagePlan,
  target: string,
  wishes: PackWishes,
  begun?: BegunPackage,
): Promise<PackedAndProved> {
  const judge = judgeFor(plan, wishes);
  return context.changing(async (applying) => {
    let proof: Proof | undefined;
    const packed = await streamOutput(target, applying.journal, {
      signal: applying.signal,
      write: async (sink) => writePackage(plan, sink, begun),
      accept: async (written, result) => {
        judge(result);
        const [changed] = changedMeanwhile(plan);
        if (changed !== undefined) throw new UnreadableFileError(changed, 'it was changed in the meantime');
        if (!(await isPackageAsPlanned(written, plan, result, begun)))
          throw new FailedOperationError({
            what: 'the archive, read back, was not what was packed',
            hint: 'nothing was written; check the disk',
          });
        if (!wishes.prove) return;
        proof = await provePackage(written, plan, shelves, checkOptionsOf(configuration), applying);
        if (!wishes.force) refuseUnproved(context, plan, proof);
      },
    });
    return { packed, proof };
  });
}

/** The steps that verified a package, for people: “read back, unpacked, checked, shown on 6 pages”. */
export function proofText(proof: Proof | undefined): string {
  if (proof === undefined) return 'verified';
  const { errors, rehearsal } = proof;
  const { recognised, pages } = rehearsal;
  const broken = pages.filter(({ problem }) => problem !== undefined).length;
  // With --force, it is packed all the same.
  if (!recognised) return 'read back and unpacked; the host refuses it';
  if (errors.length + broken > 0) return `read back and unpacked; ${count(errors.length, 'error')}, ${count(broken, 'broken page')}`;
  const shown = pages.filter(({ isRendered }) => isRendered).length;
  return `verified: read back, unpacked, checked, ${shown === 0 ? 'recognized by the stand-in host' : `shown on ${count(shown, 'page')}`}`;
}

/** @throws RefusedError when what came out of the package is not what the host takes */
function refuseUnproved(context: Context, { theme }: PackagePlan, { errors, rehearsal }: Proof): void {
  const pages = rehearsal.pages.filter(({ problem }) => problem !== undefined);
  const found = rehearsal.recognised ? errors : rehearsal.reasons;
  if (found.length === 0 && pages.length === 0) return;
  showErrors(context, found);
  for (const { role, problem } of pages) context.warn(`  ${context.paint.bad('✗')} ${role}: ${problem}`);
  throw new RefusedError({
    what: `what comes out of the package of ${theme.names.id} ${rehearsal.recognised ? 'is broken' : 'is refused by the host'}`,
    hint: 'nothing was written; see what is left out with --list, or use --force',
  });
}

function showErrors(context: Context, errors: readonly Finding[]): void {
  const { shown, more } = firstOfEach(errors, MOST_OF_A_RULE);
  context.say(`\n${findingsText(shown, context.paint, context.io.columns)}`);
  context.say(moreText(more, '“pionero check --verbose” shows all', context.paint));
}

/**
 * Checks a theme as its package will hold it: what is left out is not there.
 * @throws RefusedError when it has errors and that was not overruled
 */
export function refuseErrors(
  context: Context,
  { theme, shelves, configuration }: OpenedTheme,
  isForced: boolean,
  contents: PackageContents = choosePackageContents(theme, configuration.pack.exclude),
): void {
  const packed = themeInPackage(theme, contents);
  const check = (isForErrors: boolean): CheckResult =>
    checkTheme(packed, openChain(packed, shelves), shelves, { ...checkOptionsOf(configuration), isForErrors });
  const errors = check(true).findings;
  if (errors.length === 0) return;
  // Whoever sees the errors also sees how much else there is.
  const result = check(false);
  context.warn(headline({ id: theme.names.id, platform: theme.platform.contract, result }, context.paint));
  showErrors(context, errors);
  showLeftOut(context, errors, contents.leftOut);
  if (isForced) context.warn(`${context.paint.warn('▲')} Packed all the same, as you asked with --force.`);
  else
    throw new RefusedError({
      what: `${theme.names.id} has ${count(errors.length, 'error')} and was not packed`,
      hint: 'fix them, or use --force',
    });
}

/** Whoever reads that a file is not there, and sees it in the theme, also reads why. */
function showLeftOut(context: Context, errors: readonly Finding[], leftOut: PackageContents['leftOut']): void {
  const named = errors.flatMap(({ args, hint }) => [...Object.values(args), ...Object.values(hint?.args ?? {})].map(String));
  const missed = leftOut.filter(({ path }) => named.some((each) => each === path || (path.endsWith('/') && each.startsWith(path))));
  for (const { path, reason } of missed)
    context.warn(`${context.paint.warn('▲')} ${path} is in the theme, but not in the package: ${reason}.`);
}

/** @throws RefusedError when a file of the theme cannot be read, or changes meanwhile */
export async function readable<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    const cause = error instanceof FailedOperationError ? error.cause : error;
    if (cause instanceof UnreadableFileError)
      throw new RefusedError({ what: `${cause.path} cannot be read`, why: cause.message, hint: 'nothing was written', cause });
    throw error;
  }
}
