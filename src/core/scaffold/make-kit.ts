import { placeOfFolder, placeOnShelf } from '../theme/place.ts';
import { basename, dirname } from 'node:path';
import { stringify } from 'yaml';
import type { z } from 'zod';
import type { ChangePlan } from '../changes/plan.ts';
import { RefusedError, UsageError } from '../errors.ts';
import { existsBelow } from '../files/disk.ts';
import { matchesAny } from '../files/glob.ts';
import { fillShape } from '../names/shape.ts';
import type { RemainingPlace } from '../rename/places.ts';
import { renameTree } from '../rename/rename-tree.ts';
import type { OpenedTheme } from '../theme/open.ts';
import type { Theme } from '../theme/theme.ts';
import type { KitSchema } from './kit-schema.ts';
import { buildsOnAnother, KIT_ENDING } from './kits.ts';
import type { Kit } from './kit.ts';
import type { KitPart } from './parts.ts';
import { weigh, type Weight } from '../names/weight.ts';
import { fullNameOf } from '../names/full-name.ts';

/** The contents of a theme's kit file. */
export interface KitWishes {
  /** What --kit calls it; the theme's id when left out. */
  readonly name?: string | undefined;
  readonly about?: string | undefined;
  readonly parts: readonly KitPart[];
  readonly asks: readonly string[];
  readonly markers: readonly string[];
}

export interface NewKit {
  readonly plan: ChangePlan;
  /** The kit file, relative to the shelf, and its text. */
  readonly file: string;
  readonly text: string;
  /** How much the theme's id says by itself. */
  readonly weight: Weight;
  /** Places that a clone could not rename for sure. */
  readonly unsure: readonly RemainingPlace[];
}

/**
 * Plans the kit file that says more of a plain folder, beside it: what it is called, what it is for, what stands for the new
 * name, and which parts can be left out. Writes nothing.
 * @throws UsageError when a part has no files
 */
export function planKitOfFolder(kit: Kit, wishes: KitWishes): Pick<NewKit, 'plan' | 'file' | 'text'> {
  const folder = kit.theme.location;
  const shelf = dirname(folder);
  const file = `${basename(folder)}${KIT_ENDING}`;
  if (existsBelow(shelf, file))
    throw new RefusedError({ what: `${basename(folder)} is a kit already: there is ${file}`, hint: 'change that file' });
  assertFiles(kit.theme, wishes.parts);
  const contract: z.input<typeof KitSchema> = {
    pionero: 'kit/1',
    name: wishes.name ?? kit.name,
    title: kit.title,
    about: wishes.about ?? (kit.about === '' ? `A theme that starts as ${kit.title}` : kit.about),
    theme: basename(folder),
    for: 'child',
    parts: partsOf(wishes.parts),
    markers: [...wishes.markers],
    ask: [...wishes.asks],
    names: kit.names.map(({ text }) => text),
  };
  const text = stringify(contract, { lineWidth: 0 });
  return { plan: planFile(`kit make ${basename(folder)}`, shelf, file, text), file, text };
}

/** @throws UsageError when a part has no files */
function assertFiles({ tree }: Theme, parts: readonly KitPart[]): void {
  const paths = tree.entries.filter((entry) => entry.kind !== 'folder').map((entry) => entry.path);
  const empty = parts.find((part) => !paths.some((path) => matchesAny(path, part.files)));
  if (empty !== undefined)
    throw new UsageError({ what: `the part “${empty.name}” has no files: nothing matches ${empty.files.join(', ')}` });
}

function partsOf(parts: readonly KitPart[]): Record<string, { title: string; files: string[] }> {
  return Object.fromEntries(parts.map(({ name, title, files }) => [name, { title, files: [...files] }]));
}

function planFile(title: string, root: string, path: string, text: string): ChangePlan {
  const bytes = Buffer.from(text);
  return { title, root, isNewRoot: false, operations: [{ op: 'create', path, content: { bytes }, size: bytes.length, mode: 0o644 }] };
}

/** A name that no theme has: what becomes unsure under it is unsure under every name. */
const STRANGER = { id: 'quebrantahuesos', title: 'Quebrantahuesos' };

/**
 * Plans the kit file that makes a theme a kit, beside the theme's folder. Writes nothing.
 * @throws RefusedError when the theme is a kit already
 * @throws UsageError when a part has no files, or a fact is unknown
 */
export function planKit({ theme, folder }: OpenedTheme, wishes: KitWishes): NewKit {
  const from = fullNameOf(theme.names);
  const { shelf } = placeOfFolder(theme.platform, folder);
  const file = `${from.id}${KIT_ENDING}`;
  if (existsBelow(shelf, file)) throw new RefusedError({ what: `${from.id} is a kit already: there is ${file}`, hint: 'change that file' });
  assertFiles(theme, wishes.parts);
  const facts = theme.platform.contract.documents.flatMap((document) => document.fields.map((field) => field.fact));
  const unknown = [...wishes.asks, ...wishes.markers].find((fact) => !facts.includes(fact));
  if (unknown !== undefined)
    throw new UsageError({
      what: `${theme.platform.contract.title} has no fact “${unknown}”`,
      hint: `known: ${[...new Set(facts)].join(', ')}`,
    });
  const text = kitTextOf(theme, wishes);
  const { unsure } = renameTree({ theme, from, to: { ...STRANGER, vendor: from.vendor }, otherThemes: [], keep: [] });
  const plan = planFile(`kit make ${from.id}`, shelf, file, text);
  return { plan, file, text, weight: weigh(from.id), unsure };
}

/** The text of a theme's kit file, which lies beside the theme's folder. */
export function kitTextOf(theme: Theme, wishes: KitWishes): string {
  const from = fullNameOf(theme.names);
  const facts = new Set(theme.platform.contract.documents.flatMap((document) => document.fields.map((field) => field.fact)));
  const contract: z.input<typeof KitSchema> = {
    pionero: 'kit/1',
    name: wishes.name ?? from.id,
    title: from.title,
    about: wishes.about ?? theme.text('summary') ?? `A theme that starts as ${from.title}`,
    theme: fillShape(placeOnShelf(theme.platform), from),
    for: buildsOnAnother(theme) ? 'child' : 'standalone',
    parts: partsOf(wishes.parts),
    markers: [...wishes.markers],
    ask: wishes.asks.length > 0 ? [...wishes.asks] : ['summary', 'author'].filter((fact) => facts.has(fact)),
  };
  return stringify(contract, { lineWidth: 0 });
}
