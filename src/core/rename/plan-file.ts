import { stringify } from 'yaml';
import { sha256 } from '../changes/stamps.ts';
import { problemAtPath, readConfiguration } from '../configuration/read-configuration.ts';
import { ConfigurationError, RefusedError } from '../errors.ts';
import { baseOf, type FileTree } from '../files/file-tree.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { readBytes } from '../files/read-text.ts';
import { placeKey, type Decisions } from './decisions.ts';
import type { FullName } from '../names/full-name.ts';
import { groupPlaces, nameOfGroup, type PlaceGroup } from './place-groups.ts';
import type { Place } from './places.ts';
import { PlanSchema, type PlannedGroup } from './plan-schema.ts';
import type { RenamedTree } from './rename-tree.ts';
import type { ThemeRename } from './rename-theme.ts';
import type { Reason } from './reason.ts';

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

const HEAD = `What a rename would do. Places that say the same are one group. “becomes” is what will stand there: write something else,
or ~ to leave the places as they are. Groups of the classes unsure and kept stay until “becomes” says what they are to become. To
decide otherwise on a single place, give it a group of its own.
Apply it with --plan; a theme that was changed since is refused.`;

/** Writes a planned rename down so that people can change it. @param say makes a sentence of a reason */
export function writeRenamePlan(rename: ThemeRename, say: (reason: Reason) => string): string {
  const { tree } = rename.source.theme;
  const { from, to } = rename;
  const groups: PlannedGroup[] = [
    ...(['unsure', 'kept'] as const).flatMap((kind) =>
      groupPlaces(rename[kind], ({ found, reason }) => `${found}\0${say(reason)}`).flatMap((group) =>
        groupOf(group, kind, null, group.places[0] === undefined ? undefined : say(group.places[0].reason)),
      ),
    ),
    ...rename.moves
      .filter((move) => baseOf(move.from) !== baseOf(move.to))
      .map((move) => ({ now: baseOf(move.from), becomes: baseOf(move.to), class: 'path', at: [`${move.from}:0:0`] })),
    ...groupPlaces(rename.edits, ({ found, becomes, kind }) => `${found}\0${becomes}\0${kind}`).flatMap((group) =>
      groupOf(group, group.places[0]?.kind ?? '', group.places[0]?.becomes ?? null),
    ),
  ];
  const named = [...new Set(groups.flatMap(({ at }) => at.map(fileOf)))].sort();
  const files = Object.fromEntries(named.flatMap((file) => (digestOf(tree, file) === undefined ? [] : [[file, digestOf(tree, file)]])));
  const plan = { pionero: 'rename-plan/2', from, to, paths: digestOfPaths(tree), groups, files };
  const head = HEAD.split('\n').map((line) => `# ${line}\n`);
  return head.join('') + stringify(plan, { lineWidth: 0, keepUndefined: false });
}

function groupOf(
  group: PlaceGroup<Place & { readonly found: string }>,
  kind: string,
  becomes: string | null,
  why?: string,
): PlannedGroup[] {
  const { identifier, places } = group;
  const now = places[0]?.found ?? '';
  const around = identifier === now ? {} : { in: nameOfGroup(group) };
  return [
    { ...around, now, becomes, class: kind, ...(why === undefined ? {} : { why }), at: places.map(({ was }) => placeKey(was.file, was)) },
  ];
}

function fileOf(place: string): string {
  return place.replace(/:\d+:\d+$/, '');
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
 * @throws ConfigurationError when it is not a plan
 */
export function readRenamePlan(source: SourceDocument): SavedRename {
  const plan = readConfiguration(source, PlanSchema, 'rename plan');
  const decisions = new Map<string, string | null>();
  // A place in a group of its own is decided there, wherever that group stands.
  for (const group of plan.groups.toSorted((a, b) => b.at.length - a.at.length)) {
    const stays = group.class === 'kept' || group.class === 'unsure';
    for (const place of group.at) if (group.becomes !== null || !stays) decisions.set(place, group.becomes);
  }
  return {
    from: plan.from,
    to: plan.to,
    decisions,
    assertUnchanged: (tree) => {
      const changed = Object.entries(plan.files).filter(([file, digest]) => digestOf(tree, file) !== digest);
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
      const problems = plan.groups.flatMap((group, i) =>
        group.at.flatMap((place, j) => {
          const wanted = decisions.get(place);
          if (group.becomes === null || group.becomes === group.now || wanted !== group.becomes || done.get(place) === wanted) return [];
          return [problemAtPath(source, ['groups', i, 'at', j], `the place ${place} cannot become “${wanted}”`)];
        }),
      );
      if (problems.length === 0) return;
      const hint = 'fields that declare a name follow the new name; other places must be those of the saved plan';
      throw new ConfigurationError({ what: `${source.file} asks for changes that cannot be made`, hint, problems });
    },
  };
}
