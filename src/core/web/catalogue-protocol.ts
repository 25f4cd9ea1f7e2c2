import * as z from 'zod';

// The agreement between a catalogue and its clients. docs/catalogue.md describes it; the OpenAPI document is made of this.

const Id = z.string().min(1).max(200);
const Version = z.string().min(1).max(100);
const Sha256 = z.string().regex(/^[0-9a-f]{64}$/);
/** RFC 3339. */
const Time = z.iso.datetime();

const ReviewFinding = z.object({
  rule: z.string(),
  severity: z.enum(['error', 'warning', 'note']),
  file: z.string().describe('From the theme’s root; empty for the theme as a whole'),
  line: z.int().min(1),
  column: z.int().min(1),
  message: z.string(),
  hint: z.string().optional(),
});

const ThemeVersion = z.object({
  version: Version,
  sha256: Sha256.describe('Of the archive'),
  bytes: z.int().nonnegative(),
  at: Time.describe('When it was accepted'),
  archive: z.string().describe('Where it can be fetched, from the catalogue’s address'),
});

const ThemeSummary = z.object({ platform: Id, id: Id, title: z.string(), summary: z.string(), version: Version.describe('The newest') });

/** A theme with all its versions, the newest first. */
export const ThemeEntry = ThemeSummary.extend({ versions: z.array(ThemeVersion).min(1) });
export type ThemeEntry = z.infer<typeof ThemeEntry>;

/** The results of a search. */
export const SearchResult = z.object({ themes: z.array(ThemeSummary), total: z.int().nonnegative() });
export type SearchResult = z.infer<typeof SearchResult>;

/** All ids that are taken on a platform. */
export const NameList = z.object({ platform: Id, names: z.array(Id) });
export type NameList = z.infer<typeof NameList>;

/** A submission and what became of it. */
export const SubmissionState = z.object({
  submission: z.string().regex(/^[0-9a-f]{32}$/),
  state: z.enum(['in-review', 'accepted', 'returned']),
  platform: Id,
  id: Id.nullable().describe('As the archive says it; null as long as that is not known'),
  version: Version.nullable(),
  sha256: Sha256,
  reasons: z.array(z.string()).describe('Why it was returned'),
  findings: z.array(ReviewFinding),
  at: Time.optional().describe('When it was handed in'),
});
export type SubmissionState = z.infer<typeof SubmissionState>;

/** The submissions of one sender. */
export const SubmissionList = z.object({ submissions: z.array(SubmissionState) });

/** What would become of an archive that is handed in now. */
export const Trial = SubmissionState.pick({ platform: true, id: true, version: true, sha256: true, reasons: true, findings: true }).extend({
  state: z.enum(['accepted', 'returned']),
});
export type Trial = z.infer<typeof Trial>;

/** What went wrong, as RFC 9457 has it. */
export const Problem = z.object({
  type: z.literal('about:blank'),
  title: z.string(),
  status: z.int().min(400).max(599),
  detail: z.string(),
  code: z.enum(['unknown', 'unauthorized', 'bad-request', 'checksum', 'too-large', 'unsupported', 'full', 'defect']),
});
export type Problem = z.infer<typeof Problem>;

export const PROBLEM_TYPE = 'application/problem+json';

interface Operation {
  readonly method: 'get' | 'post';
  readonly path: string;
  readonly about: string;
  readonly parameters?: Readonly<Record<string, { readonly in: 'path' | 'query'; readonly about: string }>>;
  readonly answers: Readonly<Record<number, { readonly about: string; readonly schema?: z.ZodType; readonly type?: string }>>;
  readonly needsToken?: boolean;
  readonly body?: Readonly<Record<string, object>>;
}

const PLATFORM = { in: 'path', about: 'The name of the platform' } as const;
const ID = { in: 'path', about: 'The theme’s id; VENDOR.ID where there are vendors' } as const;

const ARCHIVE_BODY = {
  platform: { type: 'string' },
  sha256: { type: 'string' },
  archive: { type: 'string', contentMediaType: 'application/octet-stream' },
};

/** Every operation of the protocol. */
export const OPERATIONS: readonly Operation[] = [
  {
    method: 'get',
    path: '/v1/themes',
    about: 'Search: themes whose id, title or summary holds a text',
    parameters: { q: { in: 'query', about: 'The text; all when left out' }, platform: { in: 'query', about: 'Of one platform alone' } },
    answers: { 200: { about: 'At most 100, by id', schema: SearchResult } },
  },
  {
    method: 'get',
    path: '/v1/names/{platform}',
    about: 'All ids that are taken on a platform',
    parameters: { platform: PLATFORM },
    answers: { 200: { about: 'Sorted', schema: NameList } },
  },
  {
    method: 'get',
    path: '/v1/themes/{platform}/{id}',
    about: 'A theme with its versions',
    parameters: { platform: PLATFORM, id: ID },
    answers: { 200: { about: 'It is there', schema: ThemeEntry }, 404: { about: 'The name is free', schema: Problem } },
  },
  {
    method: 'get',
    path: '/v1/themes/{platform}/{id}/{version}/archive',
    about: 'The archive of a version; its SHA-256 stands in Repr-Digest (RFC 9530)',
    parameters: { platform: PLATFORM, id: ID, version: { in: 'path', about: 'A version that was accepted' } },
    answers: { 200: { about: 'The archive', type: 'application/octet-stream' }, 404: { about: 'There is none', schema: Problem } },
  },
  {
    method: 'post',
    path: '/v1/submissions',
    about:
      'Hand an archive in. The same archive, handed in again by the same sender, is the same submission: it may be sent again after any failure.',
    needsToken: true,
    body: ARCHIVE_BODY,
    answers: {
      200: { about: 'It was handed in before', schema: SubmissionState },
      202: { about: 'It was taken in', schema: SubmissionState },
      400: { about: 'It is not what it should be', schema: Problem },
      401: { about: 'The token is not known', schema: Problem },
      413: { about: 'It is too large', schema: Problem },
      507: { about: 'The catalogue is full', schema: Problem },
    },
  },
  {
    method: 'get',
    path: '/v1/submissions',
    about: 'The submissions of the sender, the newest first',
    needsToken: true,
    answers: { 200: { about: 'At most 1,000', schema: SubmissionList }, 401: { about: 'The token is not known', schema: Problem } },
  },
  {
    method: 'post',
    path: '/v1/trials',
    about: 'Ask what would become of an archive: it is looked at as a submission, and not kept',
    needsToken: true,
    body: ARCHIVE_BODY,
    answers: {
      200: { about: 'The verdict', schema: Trial },
      400: { about: 'It is not what it should be', schema: Problem },
      401: { about: 'The token is not known', schema: Problem },
      413: { about: 'It is too large', schema: Problem },
    },
  },
  {
    method: 'get',
    path: '/v1/submissions/{submission}',
    about: 'What became of a submission',
    needsToken: true,
    parameters: { submission: { in: 'path', about: 'As it was answered' } },
    answers: {
      200: { about: 'Its state', schema: SubmissionState },
      401: { about: 'The token is not known', schema: Problem },
      404: { about: 'There is none of this sender', schema: Problem },
    },
  },
];

/** The protocol as an OpenAPI 3.1 document. */
export function openApiDocument(version: string): Record<string, unknown> {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const { method, path, about, parameters = {}, answers, needsToken, body } of OPERATIONS) {
    paths[path] ??= {};
    paths[path][method] = {
      summary: about,
      ...(needsToken === true ? { security: [{ token: [] }] } : {}),
      parameters: Object.entries(parameters).map(([name, { in: place, about: description }]) => ({
        name,
        in: place,
        description,
        required: place === 'path',
        schema: { type: 'string' },
      })),
      ...(body === undefined
        ? {}
        : {
            requestBody: {
              required: true,
              content: { 'multipart/form-data': { schema: { type: 'object', required: Object.keys(body), properties: body } } },
            },
          }),
      responses: Object.fromEntries(
        Object.entries(answers).map(([status, { about: description, schema, type }]) => {
          const media = type ?? (schema === Problem ? PROBLEM_TYPE : 'application/json');
          return [status, { description, content: { [media]: schema === undefined ? {} : { schema: jsonSchema(schema) } } }];
        }),
      ),
    };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'A catalogue of themes',
      version,
      description: 'What Pionero speaks with a public directory of themes. Any server that speaks it serves.',
    },
    paths,
    components: { securitySchemes: { token: { type: 'http', scheme: 'bearer' } } },
  };
}

function jsonSchema(schema: z.ZodType): unknown {
  const { $schema: _draft, ...rest } = z.toJSONSchema(schema);
  return rest;
}
