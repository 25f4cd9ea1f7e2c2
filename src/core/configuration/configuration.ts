import { dirname, join, resolve } from 'node:path';
import * as z from 'zod';
import { readIfThere } from '../files/disk.ts';
import { SourceDocument } from '../text/source-document.ts';
import { ConfigurationError } from '../errors.ts';
import { glob, ignorePattern } from './place.ts';
import { readConfiguration } from './read-configuration.ts';

export const CONFIGURATION_FILE = 'pionero.yaml';

const Severity = z.enum(['error', 'warning', 'note', 'off']);

const ConfigurationSchema = z.strictObject({
  platform: z.string().optional().describe('The name of a platform, or the path of a platform file'),
  shelves: z.array(z.string()).default([]).describe('Folders in which parents and siblings are looked for'),
  rules: z
    .record(z.string(), z.union([Severity, z.looseObject({ severity: Severity.optional() })]))
    .default({})
    .describe('The severity of each rule; or its severity and its own options'),
  accept: z
    .array(z.strictObject({ rule: z.string(), file: glob(), reason: z.string().min(3) }))
    .default([])
    .describe('Findings that are meant to be so: the rule, the file (or a glob), and why'),
  'made-for': z.record(z.string(), z.string()).optional().describe('The same as the option of parent/version'),
  'sample-texts': z.array(z.string().min(1)).optional().describe('The same as the option of text/leftover'),
  rename: z
    .strictObject({
      keep: z.array(z.string()).default([]).describe('Texts or files in which the old name stays; * stands for any rest'),
      include: z.array(z.string()).default([]).describe('Groups of places that are changed too, or texts whose unsure places are'),
    })
    .default({ keep: [], include: [] }),
  pack: z
    .strictObject({ exclude: z.array(ignorePattern()).default([]).describe('In the syntax of ignore files') })
    .default({ exclude: [] }),
});

/** What `pionero.yaml` says; paths are absolute. */
export type Configuration = z.infer<typeof ConfigurationSchema> & {
  /** The file it was read from; undefined when there is none. */
  readonly file?: string | undefined;
  readonly source?: SourceDocument | undefined;
};

export const NO_CONFIGURATION: Configuration = ConfigurationSchema.parse({});

/**
 * Finds `pionero.yaml` in a folder, by its absolute path, or the nearest one above it.
 * @throws ConfigurationError when it is there and wrong
 */
export function findConfiguration(folder: string): Configuration {
  for (let at = folder; ; at = dirname(at)) {
    const file = join(at, CONFIGURATION_FILE);
    const bytes = readIfThere(file);
    if (bytes !== undefined) return parseConfiguration(file, bytes);
    if (dirname(at) === at) return NO_CONFIGURATION;
  }
}

/** Reads a configuration by its absolute path. @throws ConfigurationError when it is wrong */
export function parseConfiguration(file: string, bytes: Buffer): Configuration {
  const source = SourceDocument.decode(file, bytes);
  if (source === undefined) throw new ConfigurationError({ what: `${file} is not a text file` });
  const read = readConfiguration(source, ConfigurationSchema, 'configuration file');
  const base = dirname(file);
  const isPath = read.platform !== undefined && /[/\\]|\.ya?ml$/.test(read.platform);
  return {
    ...read,
    platform: isPath ? resolve(base, read.platform ?? '') : read.platform,
    shelves: read.shelves.map((shelf) => resolve(base, shelf)),
    file,
    source,
  };
}
