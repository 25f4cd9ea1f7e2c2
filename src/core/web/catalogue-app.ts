import { createHash, timingSafeEqual } from 'node:crypto';
import { basename } from 'node:path';
import { Hono, type Context } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import type * as z from 'zod';
import { readIfThere } from '../files/disk.ts';
import {
  NameList,
  openApiDocument,
  Problem,
  PROBLEM_TYPE,
  SearchResult,
  SubmissionList,
  SubmissionState,
  ThemeEntry,
  Trial,
} from './catalogue-protocol.ts';
import { archivePath, Refusal, Reviews, type CatalogueBasis, type Form } from './catalogue-reviews.ts';
import type { CatalogueStore, StoredSubmission, StoredTheme } from './catalogue-store.ts';

const MOST_FOUND = 100;
const MOST_OWN = 1000;
/** The parts of a form around the archive. */
const FORM_BYTES = 64 << 10;

/** An application that answers as a catalogue does: see catalogue-protocol.ts. */
export function catalogueApp(basis: CatalogueBasis): Hono {
  const { store, maxBytes, version } = basis;
  const app = new Hono();
  const reviews = new Reviews(basis);
  app.onError((error, context) => problemOf(context, error));
  app.notFound((context) => problemOf(context, new Refusal('unknown', 404, `${context.req.path} is not an address of this catalogue`)));
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
    const { owner: _owner, archives: _archives, ...theme } = await themeAt(store, context.req.param('platform'), context.req.param('id'));
    return answer(context, ThemeEntry, theme);
  });
  app.get('/v1/themes/:platform/:id/:version/archive', async (context) => {
    const { platform, id, version: wanted } = context.req.param();
    const theme = await themeAt(store, platform, id);
    const kept = theme.versions.find((each) => each.version === wanted);
    const bytes = kept === undefined ? undefined : readIfThere(archivePath(basis.folder, theme.archives[wanted] ?? ''));
    if (kept === undefined || bytes === undefined) throw new Refusal('unknown', 404, `there is no ${id} ${wanted}`);
    return context.body(new Uint8Array(bytes), 200, {
      'content-type': 'application/octet-stream',
      'repr-digest': `sha-256=:${Buffer.from(kept.sha256, 'hex').toString('base64')}:`,
      etag: `"${kept.sha256}"`,
    });
  });
  const limit = bodyLimit({
    maxSize: maxBytes + FORM_BYTES,
    onError: (context) => problemOf(context, new Refusal('too-large', 413, `an archive has at most ${maxBytes} bytes`)),
  });
  app.post('/v1/submissions', limit, async (context) => {
    const owner = ownerOf(context, basis.tokens);
    const { submission, isNew } = await reviews.take(owner, await formOf(context, maxBytes));
    return answer(context, SubmissionState, stateOf(submission), isNew ? 202 : 200);
  });
  app.post('/v1/trials', limit, async (context) => {
    const owner = ownerOf(context, basis.tokens);
    return answer(context, Trial, await reviews.trial(owner, await formOf(context, maxBytes)));
  });
  app.get('/v1/submissions', async (context) => {
    const submissions = await store.submissionsOf(ownerOf(context, basis.tokens));
    return answer(context, SubmissionList, { submissions: submissions.slice(0, MOST_OWN).map(stateOf) });
  });
  app.get('/v1/submissions/:submission', async (context) => {
    const owner = ownerOf(context, basis.tokens);
    const found = await store.submission(context.req.param('submission'));
    if (found === undefined || found.owner !== owner) throw new Refusal('unknown', 404, 'there is no such submission of yours');
    return answer(context, SubmissionState, stateOf(found));
  });
  reviews.goOn();
  return app;
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

async function themeAt(store: CatalogueStore, platform: string, id: string): Promise<StoredTheme> {
  const theme = await store.theme(platform, id);
  if (theme === undefined) throw new Refusal('unknown', 404, `there is no theme ${id} for ${platform}`);
  return theme;
}

function stateOf({ owner: _owner, ...state }: StoredSubmission): SubmissionState {
  return state;
}

/** Who sends, as a hash of the token. @throws Refusal when the token is not known */
function ownerOf(context: Context, tokens: readonly string[]): string {
  const bearer = /^Bearer +(\S+)$/i.exec(context.req.header('authorization') ?? '')?.[1] ?? '';
  const digest = (text: string): Buffer => createHash('sha256').update(text).digest();
  const isKnown = tokens.some((token) => timingSafeEqual(digest(token), digest(bearer)));
  if (!isKnown) throw new Refusal('unauthorized', 401, 'the token is not known here');
  return digest(bearer).toString('hex').slice(0, 16);
}

/** Answers in the words of the protocol; anything else is a defect in our code. */
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
  unsupported: 'Not for this catalogue',
  full: 'No room',
  defect: 'A defect',
};
