import * as z from 'zod';
import { glob, ignorePattern } from './place.ts';
import { SiteSchema } from './site-schema.ts';

/** The glob of every file, and of what stands in none. */
const ALL_FILES = '**';

const Severity = z.enum(['error', 'warning', 'note', 'off']);

/** The language of `pionero.yaml`. Each description is the entry's documentation: the JSON Schema and docs/configuration.md carry it on. */
export const ConfigurationSchema = z.strictObject({
  themes: z
    .array(glob())
    .optional()
    .describe('In the root of a workspace: the folders of its themes, as globs from there; found by themselves when left out'),
  platform: z.string().optional().describe('The name of a platform, or the path of a platform file'),
  shelves: z.array(z.string()).default([]).describe('Folders in which parents and siblings are looked for'),
  rules: z
    .record(z.string(), z.union([Severity, z.looseObject({ severity: Severity.optional() })]))
    .default({})
    .describe('By rule: its severity (error, warning, note, off); or a map of its severity and its own options'),
  'rule-files': z
    .array(z.string().min(1))
    .default([])
    .describe('Modules with rules of your own, as paths from this file; loaded only when this file lies outside the theme'),
  accept: z
    .array(
      z.strictObject({
        rule: z.string(),
        theme: z
          .preprocess((given) => (typeof given === 'string' ? [given] : given), z.array(glob()).min(1))
          .optional()
          .describe('Of several themes below this file, those that are meant: ids, or paths from this file, or globs of either'),
        file: glob().default(ALL_FILES),
        most: z.int().positive().optional().describe('So many findings in each theme, and no more'),
        reason: z.string().min(3),
      }),
    )
    .default([])
    .describe('Findings that are meant to be so: the rule, the theme, the file (or globs), and why'),
  baseline: z
    .string()
    .optional()
    .describe('The file of known findings, as a path from this file, that a check in its folder leaves out: see --baseline-out'),
  'made-for': z.record(z.string(), z.string()).optional().describe('The same as the option of parent/version'),
  'sample-texts': z.array(z.string().min(1)).optional().describe('The same as the option of text/leftover'),
  sites: z
    .record(z.string(), SiteSchema)
    .default({})
    .describe('Sites that themes are installed into and tried on, by your names for them: see docs/sites.md'),
  catalogue: z
    .string()
    .optional()
    .describe(
      'The address of a catalogue: names are looked up there, and themes handed in; taken only where this file lies outside the theme',
    ),
  rename: z
    .strictObject({
      keep: z.array(z.string()).default([]).describe('Texts or files in which the old name stays; * stands for any rest'),
      include: z.array(z.string()).default([]).describe('Groups of places that are changed too, or texts whose unsure places are'),
    })
    .default({ keep: [], include: [] })
    .describe('Words that every rename keeps or takes in'),
  pack: z
    .strictObject({ exclude: z.array(ignorePattern()).default([]).describe('In the syntax of ignore files') })
    .default({ exclude: [] })
    .describe('What never goes into a package'),
});

/** The contents of one file. */
export type Settings = z.infer<typeof ConfigurationSchema>;
