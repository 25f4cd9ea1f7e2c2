import * as z from 'zod';
import { PlatformSchema } from './schema.ts';

/** The language of platform files as a JSON Schema (draft 2020-12), for editors that complete and check YAML. */
export function platformJsonSchema(): Record<string, unknown> {
  return { ...z.toJSONSchema(PlatformSchema, { io: 'input' }), title: 'Pionero platform file, version 1' };
}
