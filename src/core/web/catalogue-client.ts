import { createHash } from 'node:crypto';
import type * as z from 'zod';
import { FailedOperationError, RefusedError, UsageError } from '../errors.ts';
import { NameList, Problem, SubmissionList, SubmissionState, ThemeEntry, Trial } from './catalogue-protocol.ts';

/** Where a catalogue is, and how patient one is with it. */
export interface CatalogueAccess {
  /** `https://…`, or `http://` on this machine. */
  readonly address: string;
  /** By whom one is known there; needed for submissions. */
  readonly token?: string | undefined;
  readonly signal?: AbortSignal | undefined;
  /** For one answer, in milliseconds. */
  readonly patience?: number | undefined;
  /** How often something is asked at most, when it fails in a way that may pass. */
  readonly attempts?: number | undefined;
  /** The first pause before a question is asked again, in milliseconds; each next one is twice as long. */
  readonly pause?: number | undefined;
}

const PATIENCE_MS = 30_000;
const PAUSE_MS = 400;
const ATTEMPTS = 4;
/** Nobody sits before a terminal for longer. */
const LONGEST_PAUSE_MS = 60_000;
/** Larger answers than this do not belong to the protocol. */
const MAX_ANSWER_BYTES = 16 << 20;

/** Speaks with a catalogue. Its requests can be repeated without harm, and are, after a failure that may pass. */
export class CatalogueClient {
  readonly #access: CatalogueAccess;

  /** @throws UsageError when the address is not one, or a token would go over the network for all to read */
  constructor(access: CatalogueAccess) {
    this.#access = access;
    const url = URL.canParse(access.address) ? new URL(access.address) : undefined;
    if (url !== undefined && url.username + url.password !== '')
      throw new UsageError({
        what: `the address of the catalogue at ${url.host} holds a name or a password`,
        why: 'addresses are printed, and kept in configurations and histories',
        hint: 'leave it out, and set PIONERO_TOKEN or write the token into the file of tokens',
      });
    const isHere = url !== undefined && ['127.0.0.1', 'localhost', '[::1]'].includes(url.hostname);
    if (url === undefined || !(url.protocol === 'https:' || (url.protocol === 'http:' && isHere)))
      throw new UsageError({
        what: `${access.address} is not an address of a catalogue`,
        hint: 'it begins with https://; http:// is for this machine alone',
      });
  }

  /** The theme of that name; undefined when the name is free. */
  async theme(platform: string, id: string): Promise<ThemeEntry | undefined> {
    return this.#get(`/v1/themes/${encodeURIComponent(platform)}/${encodeURIComponent(id)}`, ThemeEntry, true);
  }

  /** All ids that are taken on a platform. */
  async names(platform: string): Promise<readonly string[]> {
    return (await this.#get(`/v1/names/${encodeURIComponent(platform)}`, NameList))?.names ?? [];
  }

  /** Hands an archive in. */
  async submit(platform: string, name: string, archive: Buffer): Promise<SubmissionState> {
    const { sha256, form } = formOf(platform, name, archive);
    const state = await this.#ask('/v1/submissions', SubmissionState, () => ({ method: 'POST', body: form() }));
    if (state?.sha256 !== sha256) throw wrongAnswer(this.#access.address, 'it speaks of another archive');
    return state;
  }

  /** What would become of an archive that is handed in now; undefined where the catalogue does not tell. */
  async trial(platform: string, name: string, archive: Buffer): Promise<Trial | undefined> {
    const { sha256, form } = formOf(platform, name, archive);
    const verdict = await this.#ask('/v1/trials', Trial, () => ({ method: 'POST', body: form() }), true);
    if (verdict !== undefined && verdict.sha256 !== sha256) throw wrongAnswer(this.#access.address, 'it speaks of another archive');
    return verdict;
  }

  /** One’s own submissions, the newest first. */
  async submissions(): Promise<readonly SubmissionState[]> {
    return (await this.#get('/v1/submissions', SubmissionList))?.submissions ?? [];
  }

  /** What became of a submission. */
  async submission(id: string): Promise<SubmissionState> {
    const state = await this.#get(`/v1/submissions/${encodeURIComponent(id)}`, SubmissionState);
    if (state?.submission !== id) throw wrongAnswer(this.#access.address, 'it speaks of another submission');
    return state;
  }

  /** Looks again and again until a submission is no longer in review, or so many milliseconds have gone by. */
  async follow(submission: SubmissionState, limit: number): Promise<SubmissionState> {
    let state = submission;
    const end = Date.now() + limit;
    for (let pause = 150; state.state === 'in-review' && Date.now() < end; pause = Math.min(5000, pause * 1.5)) {
      await this.#wait(pause);
      state = await this.submission(state.submission);
    }
    return state;
  }

  async #get<T>(path: string, schema: z.ZodType<T>, mayLack = false): Promise<T | undefined> {
    return this.#ask(path, schema, () => ({ method: 'GET' }), mayLack);
  }

  async #ask<T>(path: string, schema: z.ZodType<T>, request: () => RequestInit, mayLack = false): Promise<T | undefined> {
    const { address, token, signal, patience = PATIENCE_MS, pause = PAUSE_MS, attempts = ATTEMPTS } = this.#access;
    const headers = { accept: 'application/json', ...(token === undefined ? {} : { authorization: `Bearer ${token}` }) };
    for (let attempt = 1; ; attempt++) {
      let wait = pause * 2 ** (attempt - 1);
      const limits = [AbortSignal.timeout(patience), ...(signal === undefined ? [] : [signal])];
      try {
        // The client does not follow a catalogue to another place: the token is for this one.
        const response = await fetch(new URL(path, address), {
          ...request(),
          headers,
          redirect: 'manual',
          signal: AbortSignal.any(limits),
        });
        const text = await limitedText(response);
        if (response.ok) return parsed(address, text, schema);
        if (response.status === 404 && mayLack && problemIn(text)?.code === 'unknown') return undefined;
        wait = Math.max(wait, waitAskedFor(response));
        if (!mayPass(response.status) || attempt >= attempts || wait > LONGEST_PAUSE_MS)
          throw refusedBy(this.#access, response, text, wait);
      } catch (error) {
        if (signal?.aborted === true)
          throw new FailedOperationError({ what: 'interrupted', hint: 'what was sent is sent once: ask again', cause: error });
        if (error instanceof RefusedError || error instanceof FailedOperationError || error instanceof UsageError) throw error;
        if (attempt >= attempts) throw unreachable(address, error, patience, attempts);
      }
      await this.#wait(wait);
    }
  }

  async #wait(milliseconds: number): Promise<void> {
    const { signal } = this.#access;
    await new Promise<void>((resolve) => {
      const timer = setTimeout(resolve, milliseconds);
      signal?.addEventListener('abort', () => {
        clearTimeout(timer);
        resolve();
      });
    });
    if (signal?.aborted === true) throw new FailedOperationError({ what: 'interrupted', hint: 'what was sent is sent once: ask again' });
  }
}

function formOf(platform: string, name: string, archive: Buffer): { readonly sha256: string; readonly form: () => FormData } {
  const sha256 = createHash('sha256').update(archive).digest('hex');
  const form = (): FormData => {
    const data = new FormData();
    data.set('platform', platform);
    data.set('sha256', sha256);
    data.set('archive', new Blob([new Uint8Array(archive)]), name);
    return data;
  };
  return { sha256, form };
}

/** How long a catalogue asks to be left alone, in milliseconds (`Retry-After`, RFC 9110, section 10.2.3; seconds or a date). */
function waitAskedFor(response: Response): number {
  const said = response.headers.get('retry-after') ?? '';
  const milliseconds = /^\d+$/.test(said) ? Number(said) * 1000 : Date.parse(said) - Date.now();
  return Math.max(0, Number.isNaN(milliseconds) ? 0 : milliseconds);
}

/** Whether a failure may be over when one asks again. */
function mayPass(status: number): boolean {
  return status === 429 || (status >= 500 && status !== 501 && status !== 507);
}

async function limitedText(response: Response): Promise<string> {
  let text = '';
  const decoder = new TextDecoder();
  for await (const part of response.body ?? []) {
    text += decoder.decode(part, { stream: true });
    if (text.length > MAX_ANSWER_BYTES) throw new RangeError('the answer does not end');
  }
  return text;
}

function parsed<T>(address: string, text: string, schema: z.ZodType<T>): T {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw wrongAnswer(address, 'it is not JSON');
  }
  const { success, data, error } = schema.safeParse(value);
  if (success) return data;
  const path = error.issues[0]?.path ?? [];
  const there = path.reduce<unknown>((within, key) => (within as Record<PropertyKey, unknown> | undefined)?.[key], value);
  const what = path.length === 0 ? 'the answer' : `“${path.join('.')}”`;
  throw wrongAnswer(address, there === undefined ? `${what} is missing` : `${what} is not what the protocol says`);
}

function problemIn(text: string): Problem | undefined {
  try {
    return Problem.parse(JSON.parse(text));
  } catch {
    return undefined;
  }
}

/** More than this of what a catalogue says is not printed. */
const MOST_SAID = 300;

/** The words of a catalogue, as they may be printed: short, and without the token, which it may echo. */
function said(text: string, token: string | undefined): string {
  const clean = token === undefined || token === '' ? text : text.replaceAll(token, '…');
  return clean.length > MOST_SAID ? `${clean.slice(0, MOST_SAID)}…` : clean;
}

function refusedBy(
  { address, token }: CatalogueAccess,
  { status, headers }: Response,
  text: string,
  wait: number,
): RefusedError | UsageError {
  const problem = problemIn(text);
  if (status >= 300 && status < 400)
    return new RefusedError({
      what: `${address} redirects to ${said(headers.get('location') ?? 'nowhere', token)}`,
      why: 'Pionero does not follow it: the token is for this address',
      hint: 'name the other address if you trust it',
    });
  if (status === 401 || status === 403)
    return new UsageError({
      what: `${address} does not know the token`,
      hint: 'set PIONERO_TOKEN, or put it into the file of tokens; docs/catalogue.md says where',
    });
  if (problem !== undefined)
    return new RefusedError({ what: `the catalogue refuses: ${said(problem.detail, token)}`, hint: HINTS[problem.code] });
  const hint =
    wait > LONGEST_PAUSE_MS ? `ask again in ${Math.ceil(wait / 60_000)} minutes` : 'it is busy, or has a failure: ask again later';
  return new RefusedError({
    what: `${address} answered with ${status}`,
    hint: mayPass(status) || status === 507 ? hint : 'check the address: it may not be a catalogue',
  });
}

const HINTS: Partial<Readonly<Record<Problem['code'], string>>> = {
  'too-large': 'leave files out; “pionero pack --list” shows sizes',
  checksum: 'send it again',
  full: 'nothing was kept: send it again later',
  unsupported: 'name a catalogue that has themes for this platform',
};

function wrongAnswer(address: string, why: string): FailedOperationError {
  return new FailedOperationError({
    what: `${address} does not answer as a catalogue does`,
    why,
    hint: 'check the address; docs/catalogue.md describes the protocol',
  });
}

function unreachable(address: string, error: unknown, patience: number, attempts: number): FailedOperationError {
  const cause = error instanceof Error && error.cause instanceof Error ? error.cause.message : error instanceof Error ? error.message : '';
  const isSlow = error instanceof Error && error.name === 'TimeoutError';
  return new FailedOperationError({
    what: `${address} cannot be reached`,
    why: isSlow ? `it did not answer within ${Math.round(patience / 1000)} seconds${attempts > 1 ? `, ${attempts} times` : ''}` : cause,
    hint: 'check the address and the network; nothing is half sent: send it again',
    cause: error,
  });
}
