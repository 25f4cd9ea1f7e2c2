import * as z from 'zod';
import { glob } from '../configuration/place.ts';

const Part = z.strictObject({
  title: z.string().describe('What it is, in a few words'),
  files: z.array(glob()).min(1).describe('Globs of its files, from the theme’s root'),
});

/** A kit file. */
export const KitSchema = z.strictObject({
  pionero: z.literal('kit/1'),
  name: z.string().describe('What --kit calls it'),
  title: z.string(),
  about: z.string().describe('What it is for, in one sentence'),
  theme: z.string().describe('The folder of the working theme beside this file'),
  for: z.enum(['standalone', 'child']).default('standalone'),
  offered: z.boolean().default(true).describe('Whether `new` and `kit list` show it'),
  parts: z.record(z.string(), Part).default({}).describe('What --without can leave out, with all that refers to it'),
  markers: z.array(z.string()).default([]).describe('Facts that a new theme must not have'),
  ask: z.array(z.string()).default([]).describe('Facts that `new` asks for on a terminal'),
  set: z.record(z.string(), z.string()).default({}).describe('Facts that a new theme starts with'),
  names: z
    .array(z.string().min(3))
    .default([])
    .describe('What stands for the new theme’s name besides the theme’s own: YOURTHEME, %theme%'),
});
