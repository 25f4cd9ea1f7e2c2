import * as z from 'zod';

export const BaselineSchema = z.strictObject({
  pionero: z.literal('baseline/1'),
  /** How often each rule had something to say of each file, by theme. */
  themes: z.record(z.string(), z.record(z.string(), z.int().positive())),
});

/** The findings that a theme had when it was first checked: only what comes on top of them is shown. */
export type Baseline = z.infer<typeof BaselineSchema>;
