import * as z from 'zod';

export const TakenSchema = z.object({
  file: z.string(),
  theme: z.string(),
  version: z.coerce.string().optional(),
  from: z.string(),
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  taken: z.coerce.string(),
  original: z.base64().optional(),
});

/** A record of the files that a theme took from its parents. */
export const OverridesSchema = z.object({ overrides: z.array(TakenSchema) });

/**
 * A file of a parent that a child has a copy of. `file` is where it lies in the child; `from` where it lay in the theme `theme` of
 * that version; `sha256` is of the original, in hexadecimal; `taken` is the day, as ISO 8601 has it. `original` are its bytes,
 * deflated (RFC 1951), in base64: where no archive and no repository keeps them.
 */
export type TakenFile = z.infer<typeof TakenSchema>;
