import { resolve } from 'node:path';
import { plannedTree, type ChangePlan, copyOperations } from '../changes/plan.ts';
import { UsageError } from '../errors.ts';
import { DiskTree } from '../files/disk-tree.ts';
import { fillPlace, type Platform } from '../platform/platform.ts';
import { newName, fullNameOf } from '../names/full-name.ts';
import { renameTree } from '../rename/rename-tree.ts';
import { scanForLeftovers, type Leftover } from '../rename/second-scan.ts';
import { checkTheme, type Finding, checkOptionsOf, type CheckOptions } from '../rules/check.ts';
import { openChain } from '../theme/chain.ts';
import { applyEdits } from '../text/edits.ts';
import { keyPath } from '../theme/documents.ts';
import { setFacts, typedChanges, withFile } from '../theme/set-facts.ts';
import { removeField } from '../theme/write-field.ts';
import type { Shelves } from '../theme/shelf.ts';
import { Theme } from '../theme/theme.ts';
import type { Kit } from './kits.ts';
import { chooseParts, withoutParts } from './parts.ts';
import { assertNamesAllowed, assertFree } from '../placing/free-name.ts';
import { withNote, noteFor, configurationOf } from './note.ts';
import type { FileTree } from '../files/file-tree.ts';
import { textLeftover } from '../rules/text/text-leftover.ts';

export interface NewThemeRequest {
  readonly platform: Platform;
  readonly kit: Kit;
  readonly id: string;
  readonly title?: string | undefined;
  readonly vendor?: string | undefined;
  readonly parent?: string | undefined;
  readonly facts: Readonly<Record<string, string>>;
  /** Parts of the kit that are left out. */
  readonly without?: readonly string[] | undefined;
  /** Where parents and siblings are looked for. */
  readonly shelves: Shelves;
  /** The shelf that the theme is made on; absolute. */
  readonly into: string;
  /** An existing folder that gets what it lacks, in place of a new one; absolute. */
  readonly here?: string | undefined;
}

/** What `new` would do, and what `check` would say of it. */
export interface NewTheme {
  readonly plan: ChangePlan;
  readonly theme: Theme;
  readonly findings: readonly Finding[];
  /** What a second scan finds of the kit's name, but for credits, links and the like, which stay. */
  leftovers(): readonly Leftover[];
}

/**
 * Plans a new theme: a kit's clone under a new name, with facts of its own. Writes nothing.
 * @throws UsageError when a name or fact cannot be used
 * @throws RefusedError when the name is taken or the folder exists
 */
export function planNewTheme(request: NewThemeRequest): NewTheme {
  const { platform, kit, here } = request;
  const from = fullNameOf(kit.theme.names);
  // A kit's vendor is nobody's: the new theme's must be named.
  const to = { ...newName(from, request), vendor: platform.contract.vendor === undefined ? undefined : request.vendor };
  assertNamesAllowed(to, platform);
  const folder = here ?? resolve(request.into, fillPlace(platform, to));
  if (here === undefined) assertFree(to, folder, request.shelves);
  assertParent(request);
  const base = withoutParts(kit.theme, chooseParts(kit.parts, request.without ?? [], kit.name));
  const clone = renameTree({ theme: base, from, to, otherThemes: [], keep: [] });
  const shelves = request.shelves;
  const named = new Theme(platform, plannedTree(clone.operations), to, folder);
  const wanted = { ...kit.starts, ...parentFacts(request), ...request.facts };
  const withFacts = setFacts(withoutMarkers(named, kit.markers), typedChanges(wanted));
  const operations = withNote(copyOperations(withFacts.tree), noteFor(request, folder));
  const existing = here === undefined ? undefined : new DiskTree(here);
  const missing = operations.filter((operation) => existing?.get(operation.path) === undefined);
  const tree = existing === undefined ? plannedTree(operations) : plannedTree([...copyOperations(existing), ...missing]);
  const theme = new Theme(platform, tree, to, folder);
  const { findings } = checkTheme(theme, openChain(theme, shelves), shelves, optionsFor(tree, folder));
  const plan: ChangePlan = { title: `new ${to.id}`, root: folder, isNewRoot: here === undefined, operations: missing };
  const leftovers = (): Leftover[] => scanForLeftovers(plannedTree(clone.operations), { ...from, vendor: undefined }, to, clone.kept);
  return { plan, theme, findings, leftovers };
}

/** How the new theme will be checked. The kit's sample texts stand in it yet: nobody can have replaced them. */
function optionsFor(tree: FileTree, folder: string): CheckOptions {
  const options = checkOptionsOf(configurationOf(tree, folder));
  const { [textLeftover.meta.id]: _, ...settings } = options.settings ?? {};
  return { ...options, settings };
}

function assertParent({ parent, platform, shelves }: NewThemeRequest): void {
  if (parent === undefined) return;
  if (platform.contract.inheritance.kind === 'none')
    throw new UsageError({ what: `themes for ${platform.contract.title} have no parents` });
  if (shelves.find(parent) !== undefined) return;
  const ids = shelves.list().map((theme) => theme.names.id);
  const near = ids.find((id) => id.toLowerCase() === parent.toLowerCase());
  throw new UsageError({
    what: `the parent “${parent}” is on none of the shelves (${shelves.folders.join(', ')})`,
    hint:
      near !== undefined
        ? `it is called “${near}”: case counts`
        : ids.length > 0
          ? `there are ${ids.slice(0, 8).join(', ')}; or name its shelf with --shelf`
          : 'name the shelf that it lies on with --shelf',
  });
}

/** What a child says of its parent: its id, before those that every host brings; and its vendor. */
function parentFacts({ parent, platform, shelves }: NewThemeRequest): Readonly<Record<string, string>> {
  if (parent === undefined) return {};
  const { inheritance } = platform.contract;
  const vendorFact = inheritance['vendor-fact'];
  const vendor = shelves.find(parent)?.names.vendor;
  const named = { [inheritance.fact]: [parent, ...inheritance['built-in']].join(',') };
  return vendorFact === undefined || vendor === undefined ? named : { ...named, [vendorFact]: vendor };
}

/** A clone of a kit is no kit. */
function withoutMarkers(theme: Theme, markers: readonly string[]): Theme {
  const marker = theme.facts.find((fact) => fact.field.marker || markers.includes(fact.name));
  if (marker?.document.source === undefined) return theme;
  const { document, field } = marker;
  const text = applyEdits(marker.document.source.text, removeField(document, keyPath(field)) ?? []);
  const bytes = document.source?.encode(text);
  if (bytes === undefined) return theme;
  return withoutMarkers(new Theme(theme.platform, withFile(theme.tree, document.path, bytes), theme.names, theme.location), markers);
}
