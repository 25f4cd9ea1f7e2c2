import * as z from 'zod';
import { glob, pattern, place } from './place.ts';

const command = () => z.array(z.string()).min(1);

/** A page of a site, and what it must say. */
const SitePage = z.strictObject({
  role: z.string().describe('What the page is, as the report calls it'),
  file: place().optional().describe('The file that the command makes, from {out}; may hold {id}'),
  address: z.string().startsWith('/').optional().describe('The address that the server answers, from its root; may hold {id}'),
  status: z.int().min(100).max(599).optional().describe('The status that it is right with, such as 404; below 300 where none is named'),
  holds: z.array(z.string()).default([]).describe('Texts that it must hold; may hold {id}'),
  lacks: z.array(z.string()).default([]).describe('Texts that it must not hold'),
});

/** A site that themes are installed into and tried on. */
export const SiteSchema = z.strictObject({
  folder: z.string().min(1).describe('The site’s folder, as a path from this file'),
  home: place().optional().describe('Where themes lie in it, when that is elsewhere than the platform says; may hold {id} and {vendor}'),
  own: z.array(place()).default([]).describe('Folders of it with the host’s own themes: parents are looked for there'),
  prepare: z
    .array(command())
    .default([])
    .describe('Commands that are run in the copy first, one after the other, each as a list of arguments'),
  lint: z
    .array(
      z.strictObject({
        files: z.array(glob()).min(1).describe('The files of the theme that it looks at: globs'),
        command: command().describe('The command, as a list of arguments; {file} stands for the file'),
      }),
    )
    .default([])
    .describe('The host’s own look at each file of the theme that the site does not have like this already'),
  command: command()
    .optional()
    .describe(
      'What makes the pages, as a list of arguments; {id} {home} {site} {out} stand for the theme, its place, the copy of the site, the result',
    ),
  server: command().optional().describe('What serves the pages, as a list of arguments; {port} stands for a free port of 127.0.0.1'),
  seconds: z.int().min(1).max(600).default(60).describe('How long it may take'),
  memory: z
    .int()
    .min(16)
    .max(65_536)
    .default(2048)
    .describe('How much memory its processes may take together, in MiB, where the system tells'),
  'base-urls': z
    .array(z.url({ protocol: /^https?$/ }))
    .default([])
    .describe('Addresses by which its pages call the site itself: what they load from there is asked of the site that runs'),
  'made-by': z
    .array(pattern())
    .default([])
    .describe('Patterns by which a page, or a log, says which template made it; the group file is its path'),
  pages: z.array(SitePage).default([]).describe('The pages to look at; the front page where none is named'),
  logs: z
    .array(glob())
    .default([])
    .describe('Files of the site that the host writes messages into; what was in them before is passed over'),
  failures: z
    .array(pattern())
    .default([])
    .describe(
      'Patterns of the host’s messages about mistakes, in what it prints, in its logs and in pages; the groups file and line say where',
    ),
});

export type Site = z.infer<typeof SiteSchema>;
export type SitePageContract = Site['pages'][number];
