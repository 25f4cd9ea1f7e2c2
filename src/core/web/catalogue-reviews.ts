import { createHash, randomBytes } from 'node:crypto';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import semver from 'semver';
import type { DiskWriter } from '../changes/disk-writer.ts';
import { PioneroError } from '../errors.ts';
import { readIfThere } from '../files/disk.ts';
import type { Platform } from '../platform/platform.ts';
import type { Finding } from '../rules/engine/check.ts';
import { TaskPool } from '../parallel/task-pool.ts';
import { isBuilt, LimitError, type WorkerTasks } from '../parallel/workers.ts';
import { reviewArchive, type ReviewedArchive, type ReviewOutcome } from './review.ts';
import type { Problem, SubmissionState, Trial } from './catalogue-protocol.ts';
import type { CatalogueStore, StoredSubmission, StoredTheme } from './catalogue-store.ts';

/** Everything a catalogue works with. */
export interface CatalogueBasis {
  /** Where its archives are kept; absolute. */
  readonly folder: string;
  readonly store: CatalogueStore;
  readonly writer: DiskWriter;
  readonly platforms: readonly Platform[];
  /** The folder of platform files besides the shipped ones. */
  readonly platformFolder: string;
  /** What senders are known by. */
  readonly tokens: readonly string[];
  /** The largest archive, in bytes. */
  readonly maxBytes: number;
  /** Pionero’s own version. */
  readonly version: string;
  readonly now: () => number;
  /** The advice of a finding, in words. */
  readonly hintOf: (finding: Finding) => string | undefined;
}

/** Why a catalogue does not do what is asked. */
export class Refusal extends Error {
  readonly code: Problem['code'];
  readonly status: number;

  constructor(code: Problem['code'], status: number, detail: string) {
    super(detail);
    this.code = code;
    this.status = status;
  }
}

/** A submission as it comes in. */
export interface Form {
  readonly platform: string;
  readonly sha256: string;
  readonly name: string;
  readonly archive: Buffer;
}

/** A review is ended when it takes more than this. */
const REVIEW_COSTS = { milliseconds: 60_000, mebibytes: 1024 } as const;

/** Each may take its memory: a server does not give all of the machine to senders. */
const MOST_REVIEWS = 4;

const REVIEW_TASKS: WorkerTasks<typeof import('./review.tasks.ts')> = { module: 'review.tasks.js' };

/** Takes submissions in, and looks at them one after another; who hands one in does not wait for the review of another. */
export class Reviews {
  readonly #basis: CatalogueBasis;
  #taken: Promise<unknown> = Promise.resolve();
  #reviewed: Promise<unknown> = Promise.resolve();
  /** For reviews and trials: who only asks does not wait for a review, nor for another who asks. */
  readonly #pool = new TaskPool(REVIEW_COSTS, Math.min(MOST_REVIEWS, availableParallelism()));

  constructor(basis: CatalogueBasis) {
    this.#basis = basis;
  }

  /** Goes on with what was being looked at when the catalogue ended. */
  goOn(): void {
    // A submission that cannot be reviewed now is tried again at the next start; new ones go on.
    this.#reviewed = this.#reviewUnfinished().catch(() => undefined);
  }

  async #reviewUnfinished(): Promise<void> {
    for (const each of await this.#basis.store.unfinished()) await this.#review(each);
  }

  /** Keeps a submission; the same one of the same sender is taken in once, unless it was returned. */
  async take(owner: string, { platform, sha256, name, archive }: Form): Promise<{ submission: StoredSubmission; isNew: boolean }> {
    const { store, folder, writer, now } = this.#basis;
    this.#refuseUnsupported(platform);
    const id = createHash('sha256').update([owner, platform, sha256].join('\0')).digest('hex').slice(0, 32);
    // One at a time, so that two of the same find each other.
    const taken = this.#taken.then(async () => {
      const known = await store.submission(id);
      // A submission that was returned may be right by now: its parent may have come in since.
      if (known !== undefined && known.state !== 'returned') return { submission: known, isNew: false };
      const submission: StoredSubmission = {
        submission: id,
        state: 'in-review',
        platform,
        id: null,
        version: null,
        sha256,
        reasons: [],
        findings: [],
        at: new Date(now()).toISOString(),
        owner,
      };
      const path = archivePath(folder, id);
      try {
        await this.#keepArchive(path, name, archive);
        await store.keep(submission);
      } catch (error) {
        await removeArchive(writer, path).catch(() => undefined);
        throw new Refusal('full', 507, `the archive could not be kept: ${error instanceof Error ? error.message : ''}`);
      }
      return { submission, isNew: true };
    });
    this.#taken = taken.catch(() => undefined);
    const known = await taken;
    if (known.isNew) this.#reviewed = this.#reviewed.then(async () => this.#review(known.submission)).catch(() => undefined);
    return known;
  }

  /** Judges an archive as a submission, and keeps nothing of it. */
  async trial(owner: string, { platform, sha256, name, archive }: Form): Promise<Trial> {
    this.#refuseUnsupported(platform);
    const submission = `trial-${randomBytes(16).toString('hex')}`;
    const path = archivePath(this.#basis.folder, submission);
    const asked: StoredSubmission = {
      submission,
      platform,
      sha256,
      owner,
      state: 'in-review',
      id: null,
      version: null,
      reasons: [],
      findings: [],
    };
    try {
      await this.#keepArchive(path, name, archive);
      const { state, id, version, reasons, findings } = await this.#judge(asked);
      return { platform, sha256, id, version, reasons, findings, state: state === 'accepted' ? state : 'returned' };
    } finally {
      await removeArchive(this.#basis.writer, path).catch(() => undefined);
    }
  }

  #refuseUnsupported(platform: string): void {
    if (!this.#basis.platforms.some(({ contract }) => contract.name === platform))
      throw new Refusal('unsupported', 400, `this catalogue has no themes for ${platform}`);
  }

  async #keepArchive(path: string, name: string, archive: Buffer): Promise<void> {
    const { folder, writer } = this.#basis;
    await writer.makeFolders(join(folder, 'archives'));
    await writer.putFile(path, archive, true);
    await writer.putFile(`${path}.name`, Buffer.from(name), true);
  }

  async #review(submission: StoredSubmission): Promise<void> {
    const { store, folder, writer } = this.#basis;
    const verdict = await this.#judge(submission).catch((error: unknown) => ({
      ...submission,
      state: 'returned' as const,
      reasons: [error instanceof PioneroError ? [error.what, error.why].filter(Boolean).join(': ') : 'the archive could not be looked at'],
    }));
    const theme = 'theme' in verdict ? verdict.theme : undefined;
    const { theme: _theme, ...kept } = { theme, ...verdict };
    await store.keep(kept, theme);
    // The files of a returned submission are not kept.
    if (theme === undefined) await removeArchive(writer, archivePath(folder, submission.submission));
  }

  /** In a thread of its own, which is ended when it takes too long: other senders are not kept waiting. */
  async #lookAt(submission: StoredSubmission): Promise<ReviewOutcome> {
    const { store, folder, platformFolder } = this.#basis;
    const archive = (id: string): ReviewedArchive => {
      const path = archivePath(folder, id);
      return { path, called: readIfThere(`${path}.name`)?.toString('utf8') };
    };
    const accepted = (await store.themes(submission.platform)).map((entry) => ({
      id: entry.id,
      ...archive(entry.archives[entry.version] ?? ''),
    }));
    const input = { folder, platform: submission.platform, platformFolder, accepted, ...archive(submission.submission) };
    try {
      return await (isBuilt(REVIEW_TASKS) ? this.#pool.run(REVIEW_TASKS, 'review', input) : reviewArchive(input));
    } catch (error) {
      if (!(error instanceof LimitError)) throw error;
      return { failure: `the review was ended: ${this.#pool.whyEnded(error)}` };
    }
  }

  /** Unpacks an archive safely, checks it as a submission, and holds name and version against what is there. */
  async #judge(submission: StoredSubmission): Promise<StoredSubmission & { theme?: StoredTheme | undefined }> {
    const { store, folder, now, hintOf } = this.#basis;
    const path = archivePath(folder, submission.submission);
    const outcome = await this.#lookAt(submission);
    if ('failure' in outcome) return { ...submission, state: 'returned', reasons: [outcome.failure] };
    const { id, title, summary, version, findings: all, missingParent } = outcome.review;
    const known = await store.theme(submission.platform, id);
    // The reasons name the parents that are missing here; the sender has no business with our folders of themes.
    const findings = all.filter(({ rule, code }) => rule !== 'parent/missing' || !['missing', 'above', 'commons'].includes(code));
    const reasons = [
      ...(known !== undefined && known.owner !== submission.owner ? [`the name ${known.id} is taken by someone else`] : []),
      ...versionProblem(known, version),
      ...(all.length > findings.length && missingParent !== undefined
        ? [`it builds on ${missingParent}, which is not in this catalogue: hand that in first`]
        : []),
      ...(findings.some(({ severity }) => severity === 'error') ? ['the theme has errors'] : []),
    ];
    const problems = findings.filter(({ severity }) => severity !== 'note').map((finding) => findingTold(finding, hintOf));
    const judged = { ...submission, id, version, reasons, findings: problems };
    if (reasons.length > 0) return { ...judged, state: 'returned' };
    const archive = `/v1/themes/${encodeURIComponent(submission.platform)}/${encodeURIComponent(id)}/${encodeURIComponent(version)}/archive`;
    const entry = { version, sha256: submission.sha256, bytes: readIfThere(path)?.length ?? 0, at: new Date(now()).toISOString(), archive };
    return {
      ...judged,
      state: 'accepted',
      theme: {
        platform: submission.platform,
        id,
        title: title ?? id,
        summary,
        version,
        versions: [entry, ...(known?.versions ?? [])],
        archives: { ...known?.archives, [version]: submission.submission },
        owner: submission.owner,
      },
    };
  }
}

function versionProblem(known: StoredTheme | undefined, version: string): string[] {
  if (known === undefined) return [];
  if (known.versions.some((each) => each.version === version)) return [`version ${version} is there already`];
  const [now, before] = [semver.coerce(version, { includePrerelease: true }), semver.coerce(known.version, { includePrerelease: true })];
  return now !== null && before !== null && semver.lt(now, before)
    ? [`version ${version} is lower than ${known.version}, which is there`]
    : [];
}

function findingTold(finding: Finding, hintOf: CatalogueBasis['hintOf']): SubmissionState['findings'][number] {
  const { rule, severity, file, line, column, message } = finding;
  const hint = hintOf(finding);
  return { rule, severity, file, line, column, message, ...(hint === undefined ? {} : { hint }) };
}

async function removeArchive(writer: DiskWriter, path: string): Promise<void> {
  await writer.remove(path);
  await writer.remove(`${path}.name`);
}

/** Where the archive of a submission is kept: each has its own, so that what becomes of one is nothing to another of the same bytes. */
export function archivePath(folder: string, submission: string): string {
  return join(folder, 'archives', submission);
}
