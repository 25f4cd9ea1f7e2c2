import * as z from 'zod';

const Name = z.strictObject({ id: z.string(), title: z.string(), vendor: z.string().optional() });
const Group = z.strictObject({
  in: z.string().optional().describe('the identifier, when it is longer than what is found'),
  now: z.string(),
  becomes: z.string().nullable(),
  class: z.string(),
  why: z.string().optional(),
  at: z
    .array(z.string().regex(/^.+:\d+:\d+$/))
    .min(1)
    .describe('file:line:column before the rename; 0:0 is the name of the file'),
});
/** A planned rename, as it is written down. */
export const PlanSchema = z.strictObject({
  pionero: z.literal('rename-plan/2'),
  from: Name,
  to: Name,
  paths: z.string().describe('SHA-256 of all paths of the theme'),
  groups: z.array(Group),
  files: z.record(z.string(), z.string()).describe('SHA-256 of each file that is named above'),
});
export type PlannedGroup = z.infer<typeof Group>;
