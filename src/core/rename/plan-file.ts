import { stringify } from 'yaml';
import * as z from 'zod';
import { sha256 } from '../changes/stamps.ts';
import { problemAtPath, readConfiguration } from '../configuration/read-configuration.ts';
import { ConfigurationError, RefusedError } from '../errors.ts';
import { baseOf, type FileTree } from '../files/file-tree.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { readBytes } from '../files/read-text.ts';
import { placeKey, type Decisions } from './analyse-file.ts';
import type { FullName } from '../names/full-name.ts';
import type { RenamedTree } from './rename-tree.ts';
import type { ThemeRename } from './rename-theme.ts';
import type { Reason } from './reason.ts';

const Name = z.strictObject({ id: z.string(), title: z.string(), vendor: z.string().optional() });
const Place = z.strictObject({
  at: z
    .string()
    .regex(/^\d+:\d+$/)
    .describe('line:column before the rename; 0:0 is the name of the file'),
  now: z.string(),
  becomes: z.string().nullable(),
  class: z.string(),
  why: z.string().optional(),
});
const PlanSchema = z.strictObject({
  pionero: z.literal('rename-plan/1'),
  from: Name,
  to: Name,
  paths: z.string().describe('SHA-256 of all paths of the theme'),
  files: z.record(z.string(), z.strictObject({ sha256: z.string().optional(), places: z.array(Place) })),
});

/** A rename as it was saved, with what people changed in it. */
export interface SavedRename {
  readonly from: FullName;
  readonly to: FullName;
  readonly decisions: Decisions;
  /** @throws RefusedError when a file of the theme is not as it was */
  assertUnchanged(tree: FileTree): void;
  /** @throws ConfigurationError when something was asked for that the plan cannot do */
  assertFollowed(renamed: RenamedTree): void;
}

const HEAD = `What a rename would do, place by place. “becomes” is what will stand there: write something else, or ~ to leave the
place as it is. Places of the classes kept and unsure stay until “becomes” says what they are to become.
Apply it with --plan; a theme that was changed since is refused.`;

/** Writes a planned rename down so that people can change it. @param say makes a sentence of a reason */
export function writeRenamePlan(rename: ThemeRename, say: (reason: Reason) => string): string {
  const { theme } = rename.source;
  const files: Record<string, { sha256?: string | undefined; places: z.infer<typeof Place>[] }> = {};
  const add = (file: string, place: z.infer<typeof Place>): void => {
    const own = (files[file] ??= { sha256: digestOf(theme.tree, file), places: [] });
    own.places.push(place);
  };
  for (const { from, to } of rename.moves) {
    if (baseOf(from) !== baseOf(to)) add(from, { at: '0:0', now: baseOf(from), becomes: baseOf(to), class: 'path' });
  }
  for (const { was, found, becomes, kind } of rename.edits) add(was.file, { at: at(was), now: found, becomes, class: kind });
  for (const kind of ['kept', 'unsure'] as const) {
    for (const { was, found, reason } of rename[kind])
      add(was.file, { at: at(was), now: found, becomes: null, class: kind, why: say(reason) });
  }
  const { from, to } = rename;
  const plan: z.infer<typeof PlanSchema> = { pionero: 'rename-plan/1', from, to, paths: digestOfPaths(theme.tree), files };
  const head = HEAD.split('\n').map((line) => `# ${line}\n`);
  return head.join('') + stringify(plan, { lineWidth: 0, keepUndefined: false });
}

function at({ line, column }: { line: number; column: number }): string {
  return `${line}:${column}`;
}

function digestOf(tree: FileTree, path: string): string | undefined {
  const bytes = readBytes(tree, path);
  return bytes === undefined ? undefined : sha256(bytes);
}

function digestOfPaths(tree: FileTree): string {
  return sha256(Buffer.from(tree.entries.map(({ kind, path, target = '' }) => `${kind} ${path} ${target}\n`).join('')));
}

/**
 * Reads a saved plan.
 * @throws ConfigurationError when it is no plan
 */
export function readRenamePlan(source: SourceDocument): SavedRename {
  const plan = readConfiguration(source, PlanSchema, 'rename plan');
  const decisions = new Map<string, string | null>();
  const places = Object.entries(plan.files).flatMap(([file, { places: own }]) => own.map((place, i) => ({ file, place, i })));
  for (const { file, place } of places) {
    const [line = 0, column = 0] = place.at.split(':').map(Number);
    const stays = place.class === 'kept' || place.class === 'unsure';
    if (place.becomes !== null || !stays) decisions.set(placeKey(file, { line, column }), place.becomes);
  }
  return {
    from: plan.from,
    to: plan.to,
    decisions,
    assertUnchanged: (tree) => {
      const changed = Object.entries(plan.files).filter(([file, own]) => digestOf(tree, file) !== own.sha256);
      const isListed = digestOfPaths(tree) === plan.paths;
      if (changed.length === 0 && isListed) return;
      throw new RefusedError({
        what: 'the theme was changed since the plan was saved',
        why: changed.length > 0 ? changed.map(([file]) => file).join(', ') : 'files were added, taken away or renamed',
        hint: 'save a new plan with --plan-out',
      });
    },
    assertFollowed: (renamed) => {
      const done = new Map(renamed.edits.map(({ was, becomes }) => [placeKey(was.file, was), becomes]));
      for (const { from, to } of renamed.moves) done.set(placeKey(from, { line: 0, column: 0 }), baseOf(to));
      const problems = places
        .filter(({ place }) => place.becomes !== null && place.becomes !== place.now)
        .filter(({ file, place }) => done.get(`${file}:${place.at}`) !== place.becomes)
        .map(({ file, place, i }) => {
          const message = `the place ${file}:${place.at} cannot become “${place.becomes}”`;
          return problemAtPath(source, ['files', file, 'places', i, 'becomes'], message);
        });
      if (problems.length === 0) return;
      const hint = 'fields that declare a name follow the new name; other places must be those of the saved plan';
      throw new ConfigurationError({ what: `${source.file} asks for what cannot be done`, hint, problems });
    },
  };
}
