import * as z from 'zod';
import { ConfigurationError } from '../errors.ts';
import { readIfThere } from '../files/disk.ts';
import { SourceDocument } from '../text/source-document.ts';
import { readConfiguration } from './read-configuration.ts';

const Start = {
  vendor: z.string().optional().describe('Who makes the themes, on platforms that have vendors'),
  facts: z.record(z.string(), z.string()).default({}).describe('Facts that new themes start with: author, license, homepage …'),
};
const UserSchema = z.strictObject({
  ...Start,
  platforms: z.record(z.string(), z.strictObject(Start)).default({}).describe('The same for one platform'),
});

/** What someone wants in all their new themes. */
export interface UserStart {
  readonly vendor?: string | undefined;
  readonly facts: Readonly<Record<string, string>>;
}

/**
 * Reads what a user's own configuration says about new themes for a platform; nothing when there is none.
 * @param file absolute
 * @throws ConfigurationError when it is there and wrong
 */
export function readUserStart(file: string, platform: string): UserStart {
  const bytes = readIfThere(file);
  if (bytes === undefined) return { facts: {} };
  const source = SourceDocument.decode(file, bytes);
  if (source === undefined) throw new ConfigurationError({ what: `${file} is not a text file` });
  const { vendor, facts, platforms } = readConfiguration(source, UserSchema, 'your configuration');
  const own = platforms[platform];
  return { vendor: own?.vendor ?? vendor, facts: { ...facts, ...own?.facts } };
}
