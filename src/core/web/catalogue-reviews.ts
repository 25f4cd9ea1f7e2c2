import { createHash } from 'node:crypto';
import { join } from 'node:path';
import semver from 'semver';
import type { DiskWriter } from '../changes/disk-writer.ts';
import { PioneroError } from '../errors.ts';
import { readIfThere } from '../files/disk.ts';
import type { Platform } from '../platform/platform.ts';
import { checkTheme, type Finding } from '../rules/check.ts';
import { openThemeArchive } from '../theme/open-archive.ts';
import { openChain } from '../theme/chain.ts';
import type { OpenedTheme } from '../theme/open.ts';
import { Shelves } from '../theme/shelf.ts';
import type { Theme } from '../theme/theme.ts';
import type { Problem, SubmissionState } from './catalogue-protocol.ts';
import type { CatalogueStore, StoredSubmission, StoredTheme } from './catalogue-store.ts';

/** What a catalogue works with. */
export interface CatalogueBasis {
  /** Where its archives are kept; absolute. */
  readonly folder: string;
  readonly store: CatalogueStore;
  readonly writer: DiskWriter;
  readonly platforms: readonly Platform[];
  /** What senders are known by. */
  readonly tokens: readonly string[];
  /** The largest archive, in bytes. */
  readonly maxBytes: number;
  /** Pionero’s own version. */
  readonly version: string;
  readonly now: () => number;
  /** What is said of a finding’s advice. */
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

/** What is handed in. */
export interface Form {
  readonly platform: string;
  readonly sha256: string;
  readonly name: string;
  readonly archive: Buffer;
}

/** Takes submissions in and looks at them, one after another. */
export class Reviews {
  readonly #basis: CatalogueBasis;
  #last: Promise<unknown> = Promise.resolve();

  constructor(basis: CatalogueBasis) {
    this.#basis = basis;
  }

  /** Goes on with what was being looked at when the catalogue ended. */
  goOn(): void {
    // What cannot be reviewed now is tried again at the next start; what comes in goes on.
    this.#last = this.#reviewUnfinished().catch(() => undefined);
  }

  async #reviewUnfinished(): Promise<void> {
    for (const each of await this.#basis.store.unfinished()) await this.#review(each);
  }

  /** Keeps a submission; the same one of the same sender is taken in once, unless it was returned. */
  async take(owner: string, { platform, sha256, name, archive }: Form): Promise<{ submission: StoredSubmission; isNew: boolean }> {
    const { store, folder, writer, platforms } = this.#basis;
    if (!platforms.some(({ contract }) => contract.name === platform))
      throw new Refusal('unsupported', 400, `this catalogue has no themes for ${platform}`);
    const id = createHash('sha256').update([owner, platform, sha256].join('\0')).digest('hex').slice(0, 32);
    // One at a time, so that two of the same find each other.
    const taken = this.#last.then(async () => {
      const known = await store.submission(id);
      // What was returned may be right by now: its parent may have come in since.
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
        owner,
      };
      const path = archivePath(folder, id);
      try {
        await writer.makeFolders(join(folder, 'archives'));
        await writer.putFile(path, archive, true);
        await writer.putFile(`${path}.name`, Buffer.from(name), true);
        await store.keep(submission);
      } catch (error) {
        await removeArchive(writer, path).catch(() => undefined);
        throw new Refusal('full', 507, `the archive could not be kept: ${error instanceof Error ? error.message : ''}`);
      }
      return { submission, isNew: true };
    });
    this.#last = taken.then(async ({ submission, isNew }) => (isNew ? this.#review(submission) : undefined)).catch(() => undefined);
    return taken;
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
    // What was returned is kept nowhere.
    if (theme === undefined) await removeArchive(writer, archivePath(folder, submission.submission));
  }

  /** What a theme builds on, as far as it is in the catalogue, in the newest version that was accepted. */
  async #parentsOf(theme: Theme): Promise<Theme[]> {
    const { store } = this.#basis;
    const { name } = theme.platform.contract;
    const all = theme.parents.length === 0 ? [] : await store.themes(name);
    const found = new Map<string, Theme>();
    for (let next: readonly Theme[] = [theme]; next.length > 0 && found.size < MAX_PARENTS;) {
      const named = next.flatMap((each) => each.parents.map((id) => catalogueId({ names: { id, vendor: each.parentVendor } })));
      next = [];
      // In another case, too: that is what the check tells of then.
      const entries = all.filter(({ id }) => !found.has(id) && named.some((each) => isSameName(id, each)));
      for (const entry of entries) {
        const parent = await this.#open(name, entry.archives[entry.version] ?? '');
        found.set(entry.id, parent.theme);
        next = [...next, parent.theme];
      }
    }
    return [...found.values()];
  }

  /** @throws RefusedError when the archive of a submission is damaged or holds no theme */
  async #open(platform: string, submission: string): Promise<OpenedTheme> {
    const { folder, platforms } = this.#basis;
    const path = archivePath(folder, submission);
    const called = readIfThere(`${path}.name`)?.toString('utf8');
    return openThemeArchive(path, { currentFolder: folder, platform, platforms: () => platforms, shelves: [], called });
  }

  /** Unpacks an archive safely, checks it as a submission, and holds name and version against what is there. */
  async #judge(submission: StoredSubmission): Promise<StoredSubmission & { theme?: StoredTheme | undefined }> {
    const { store, folder, now, hintOf } = this.#basis;
    const path = archivePath(folder, submission.submission);
    const { theme } = await this.#open(submission.platform, submission.submission);
    const id = catalogueId(theme);
    const version = theme.text('version') ?? '0';
    const known = await store.theme(submission.platform, id);
    const shelves = new Shelves(theme.platform, [], folder).with(await this.#parentsOf(theme));
    const chain = openChain(theme, shelves);
    const all = checkTheme(theme, chain, shelves, { purpose: 'submission' }).findings;
    // Of what it builds on that is not here, the reasons tell; folders of themes are none of the sender's concern.
    const findings = all.filter(({ rule, code }) => rule !== 'parent/missing' || !['missing', 'above', 'commons'].includes(code));
    const reasons = [
      ...(known !== undefined && known.owner !== submission.owner ? [`the name ${known.id} is taken by somebody else`] : []),
      ...versionProblem(known, version),
      ...(all.length > findings.length && chain.broken?.kind === 'missing'
        ? [`it builds on ${chain.broken.id}, which is not in this catalogue: hand that in first`]
        : []),
      ...(findings.some(({ severity }) => severity === 'error') ? ['the theme has errors'] : []),
    ];
    const told = findings.filter(({ severity }) => severity !== 'note').map((finding) => findingTold(finding, hintOf));
    const judged = { ...submission, id, version, reasons, findings: told };
    if (reasons.length > 0) return { ...judged, state: 'returned' };
    const archive = `/v1/themes/${encodeURIComponent(submission.platform)}/${encodeURIComponent(id)}/${encodeURIComponent(version)}/archive`;
    const entry = { version, sha256: submission.sha256, bytes: readIfThere(path)?.length ?? 0, at: new Date(now()).toISOString(), archive };
    return {
      ...judged,
      state: 'accepted',
      theme: {
        platform: submission.platform,
        id,
        title: theme.names.title ?? id,
        summary: theme.text('summary') ?? '',
        version,
        versions: [entry, ...(known?.versions ?? [])],
        archives: { ...known?.archives, [version]: submission.submission },
        owner: submission.owner,
      },
    };
  }
}

/** As many themes as one can build on, each on the next. */
const MAX_PARENTS = 16;

/** The name of a theme in a catalogue: with its vendor where there are vendors. */
function catalogueId({ names: { id, vendor } }: Pick<Theme, 'names'>): string {
  return vendor === undefined ? id : `${vendor}.${id}`;
}

/** Case aside; a parent that is named without its vendor may be anybody's. */
function isSameName(id: string, named: string): boolean {
  const [low, wanted] = [id.toLowerCase(), named.toLowerCase()];
  return low === wanted || low.endsWith(`.${wanted}`);
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
