import { createHash, timingSafeEqual } from 'node:crypto';
import { basename, join } from 'node:path';
import { Hono, type Context } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import semver from 'semver';
import type * as z from 'zod';
import { openThemeArchive } from '../theme/open-archive.ts';
import { PioneroError } from '../errors.ts';
import { readIfThere } from '../files/disk.ts';
import type { DiskWriter } from '../changes/disk-writer.ts';
import { checkTheme, type Finding } from '../rules/check.ts';
import type { Platform } from '../platform/platform.ts';
import type { Theme } from '../theme/theme.ts';
import { NameList, openApiDocument, Problem, PROBLEM_TYPE, SearchResult, SubmissionState, ThemeEntry } from './catalogue-protocol.ts';
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

const MOST_FOUND = 100;
/** The parts of a form around the archive. */
const FORM_BYTES = 64 << 10;

class Refusal extends Error {
  readonly code: Problem['code'];
  readonly status: number;

  constructor(code: Problem['code'], status: number, detail: string) {
    super(detail);
    this.code = code;
    this.status = status;
  }
}

/** An application that answers as a catalogue does: see catalogue-protocol.ts. */
export function catalogueApp(basis: CatalogueBasis): Hono {
  const { store, maxBytes, version } = basis;
  const app = new Hono();
  const reviews = new Reviews(basis);
  app.onError((error, context) => problemOf(context, error));
  app.notFound((context) => problemOf(context, new Refusal('unknown', 404, `${context.req.path} is no address of this catalogue`)));
  app.get('/openapi.json', (context) => context.json(openApiDocument(version)));
  app.get('/v1/themes', async (context) => {
    const wanted = (context.req.query('q') ?? '').toLowerCase();
    const found = (await store.themes(context.req.query('platform'))).filter(({ id, title, summary }) =>
      [id, title, summary].some((text) => text.toLowerCase().includes(wanted)),
    );
    const themes = found
      .slice(0, MOST_FOUND)
      .map(({ platform, id, title, summary, version: newest }) => ({ platform, id, title, summary, version: newest }));
    return answer(context, SearchResult, { themes, total: found.length });
  });
  app.get('/v1/names/:platform', async (context) => {
    const platform = context.req.param('platform');
    const names = (await store.themes(platform)).map(({ id }) => id).sort();
    return answer(context, NameList, { platform, names });
  });
  app.get('/v1/themes/:platform/:id', async (context) => {
    const { owner: _owner, ...theme } = await themeAt(store, context.req.param('platform'), context.req.param('id'));
    return answer(context, ThemeEntry, theme);
  });
  app.get('/v1/themes/:platform/:id/:version/archive', async (context) => {
    const { platform, id, version: wanted } = context.req.param();
    const theme = await themeAt(store, platform, id);
    const kept = theme.versions.find((each) => each.version === wanted);
    const bytes = kept === undefined ? undefined : readIfThere(archivePath(basis.folder, kept.sha256));
    if (kept === undefined || bytes === undefined) throw new Refusal('unknown', 404, `there is no ${id} ${wanted}`);
    return context.body(new Uint8Array(bytes), 200, {
      'content-type': 'application/octet-stream',
      'repr-digest': `sha-256=:${Buffer.from(kept.sha256, 'hex').toString('base64')}:`,
      etag: `"${kept.sha256}"`,
    });
  });
  app.post(
    '/v1/submissions',
    bodyLimit({
      maxSize: maxBytes + FORM_BYTES,
      onError: (context) => problemOf(context, new Refusal('too-large', 413, `an archive has at most ${maxBytes} bytes`)),
    }),
    async (context) => {
      const owner = ownerOf(context, basis.tokens);
      const { submission, isNew } = await reviews.take(owner, await formOf(context, maxBytes));
      return answer(context, SubmissionState, stateOf(submission), isNew ? 202 : 200);
    },
  );
  app.get('/v1/submissions/:submission', async (context) => {
    const owner = ownerOf(context, basis.tokens);
    const found = await store.submission(context.req.param('submission'));
    if (found === undefined || found.owner !== owner) throw new Refusal('unknown', 404, 'there is no such submission of yours');
    return answer(context, SubmissionState, stateOf(found));
  });
  reviews.goOn();
  return app;
}

interface Form {
  readonly platform: string;
  readonly sha256: string;
  readonly name: string;
  readonly archive: Buffer;
}

async function formOf(context: Context, maxBytes: number): Promise<Form> {
  const form = await context.req.formData().catch(() => {
    throw new Refusal('bad-request', 400, 'the form could not be read: it was broken off, or is none');
  });
  const [platform, sha256, archive] = [form.get('platform'), form.get('sha256'), form.get('archive')];
  if (typeof platform !== 'string' || typeof sha256 !== 'string' || archive === null || typeof archive === 'string')
    throw new Refusal('bad-request', 400, 'a submission has the parts platform, sha256 and archive, which is a file');
  if (archive.size > maxBytes) throw new Refusal('too-large', 413, `an archive has at most ${maxBytes} bytes`);
  const bytes = Buffer.from(await archive.arrayBuffer());
  if (createHash('sha256').update(bytes).digest('hex') !== sha256)
    throw new Refusal('checksum', 400, 'the archive is not what was sent: its SHA-256 differs');
  return { platform, sha256, name: basename(archive.name).replaceAll(/[^\w.-]/g, '_'), archive: bytes };
}

/** Takes submissions in and looks at them, one after another. */
class Reviews {
  readonly #basis: CatalogueBasis;
  #last: Promise<unknown> = Promise.resolve();

  constructor(basis: CatalogueBasis) {
    this.#basis = basis;
  }

  /** Goes on with what was being looked at when the catalogue ended. */
  goOn(): void {
    this.#last = this.#reviewUnfinished();
  }

  async #reviewUnfinished(): Promise<void> {
    for (const each of await this.#basis.store.unfinished()) await this.#review(each);
  }

  /** Keeps a submission; the same one of the same sender is taken in once. */
  async take(owner: string, { platform, sha256, name, archive }: Form): Promise<{ submission: StoredSubmission; isNew: boolean }> {
    const { store, folder, writer, platforms } = this.#basis;
    if (!platforms.some(({ contract }) => contract.name === platform))
      throw new Refusal('unsupported', 400, `this catalogue has no themes for ${platform}`);
    const id = createHash('sha256').update([owner, platform, sha256].join('\0')).digest('hex').slice(0, 32);
    // One at a time, so that two of the same find each other.
    const taken = this.#last.then(async () => {
      const known = await store.submission(id);
      if (known !== undefined) return { submission: known, isNew: false };
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
      const path = archivePath(folder, sha256);
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
    // What was returned is kept nowhere, unless it was accepted from somebody before.
    const isKept = (await store.themes()).some(({ versions }) => versions.some(({ sha256 }) => sha256 === submission.sha256));
    if (!isKept) await removeArchive(writer, archivePath(folder, submission.sha256));
  }

  /** Unpacks an archive safely, checks it as a submission, and holds name and version against what is there. */
  async #judge(submission: StoredSubmission): Promise<StoredSubmission & { theme?: StoredTheme | undefined }> {
    const { store, folder, platforms, now, hintOf } = this.#basis;
    const path = archivePath(folder, submission.sha256);
    const called = readIfThere(`${path}.name`)?.toString('utf8');
    const opened = await openThemeArchive(path, {
      currentFolder: folder,
      platform: submission.platform,
      platforms: () => platforms,
      shelves: [],
      called,
    });
    const { theme, chain, shelves } = opened;
    const id = catalogueId(theme);
    const version = theme.text('version') ?? '0';
    const known = await store.theme(submission.platform, id);
    const all = checkTheme(theme, chain, shelves, { purpose: 'submission' }).findings;
    // A parent is on the sender's machine, not here.
    const findings = all.filter(({ rule }) => !rule.startsWith('parent/'));
    const reasons = [
      ...(known !== undefined && known.owner !== submission.owner ? [`the name ${known.id} is taken by somebody else`] : []),
      ...versionProblem(known, version),
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
        owner: submission.owner,
      },
    };
  }
}

/** The name of a theme in a catalogue: with its vendor where there are vendors. */
export function catalogueId({ names: { id, vendor } }: Pick<Theme, 'names'>): string {
  return vendor === undefined ? id : `${vendor}.${id}`;
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

async function themeAt(store: CatalogueStore, platform: string, id: string): Promise<StoredTheme> {
  const theme = await store.theme(platform, id);
  if (theme === undefined) throw new Refusal('unknown', 404, `there is no theme ${id} for ${platform}`);
  return theme;
}

async function removeArchive(writer: DiskWriter, path: string): Promise<void> {
  await writer.remove(path);
  await writer.remove(`${path}.name`);
}

function archivePath(folder: string, sha256: string): string {
  return join(folder, 'archives', sha256);
}

function stateOf({ owner: _owner, ...state }: StoredSubmission): SubmissionState {
  return state;
}

/** Who sends, as a hash of the token. @throws Refusal when the token is not known */
function ownerOf(context: Context, tokens: readonly string[]): string {
  const given = /^Bearer +(\S+)$/i.exec(context.req.header('authorization') ?? '')?.[1] ?? '';
  const digest = (text: string): Buffer => createHash('sha256').update(text).digest();
  const isKnown = tokens.some((token) => timingSafeEqual(digest(token), digest(given)));
  if (!isKnown) throw new Refusal('unauthorized', 401, 'the token is not known here');
  return digest(given).toString('hex').slice(0, 16);
}

/** Answers with what the protocol says; anything else is a defect of ours. */
function answer<T>(context: Context, schema: z.ZodType<T>, value: T, status: 200 | 202 = 200): Response {
  return context.json(schema.parse(value) as object, status);
}

function problemOf(context: Context, error: unknown): Response {
  const refusal = error instanceof Refusal ? error : new Refusal('defect', 500, 'something went wrong in the catalogue');
  const { code, status, message: detail } = refusal;
  const problem: Problem = { type: 'about:blank', title: TITLES[code], status, detail, code };
  return context.body(JSON.stringify(Problem.parse(problem)), status as 400, { 'content-type': PROBLEM_TYPE });
}

const TITLES: Readonly<Record<Problem['code'], string>> = {
  unknown: 'Not there',
  unauthorized: 'Not known',
  'bad-request': 'Not understood',
  checksum: 'Broken on the way',
  'too-large': 'Too large',
  taken: 'Taken',
  version: 'Not newer',
  unsupported: 'Not for this catalogue',
  full: 'No room',
  defect: 'A defect',
};
