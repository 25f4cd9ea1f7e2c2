import { dirname, join, resolve } from 'node:path';
import { isBelowOnDisk, readIfThere } from '../files/disk.ts';
import { SourceDocument } from '../text/source-document.ts';
import { ConfigurationError } from '../errors.ts';
import { readConfiguration } from './read-configuration.ts';
import { ConfigurationSchema, type Settings } from './schema.ts';

export const CONFIGURATION_FILE = 'pionero.yaml';

/** The settings of one `pionero.yaml`; paths are absolute. */
export interface ConfigurationLayer extends Settings {
  readonly file: string;
  readonly source: SourceDocument;
}

/** What holds in a folder: all that the files above it say, each refined by those that lie nearer. Paths are absolute. */
export interface Configuration extends Settings {
  /** The nearest file; undefined when there is none. */
  readonly file?: string | undefined;
  /** The files that it is made of, the nearest first. */
  readonly layers: readonly ConfigurationLayer[];
}

/** The schema's reading of an empty file; made without it, as most folders have no such file. */
export const NO_CONFIGURATION: Configuration = {
  shelves: [],
  rules: {},
  'rule-files': [],
  accept: [],
  sites: {},
  rename: { keep: [], include: [] },
  pack: { exclude: [] },
  layers: [],
};

/**
 * Reads every `pionero.yaml` in a folder, by its absolute path, and above it.
 * @throws ConfigurationError when one is there and wrong
 */
export function findConfiguration(folder: string): Configuration {
  const layers = layersAbove(folder);
  const [nearest] = layers;
  if (nearest === undefined) return NO_CONFIGURATION;
  // Themes of one workspace have the same files above them, and whoever opens many gets the same configuration.
  const known = merged.get(nearest);
  if (known !== undefined && known.layers.length === layers.length && known.layers.every((layer, i) => layer === layers[i])) return known;
  const made = mergeLayers(layers);
  merged.set(nearest, made);
  return made;
}

/**
 * The files that hold in a folder, the nearest first, but for those in a theme: whoever sends a theme has no say in what is run, or where it
 * goes.
 * @param themeFolder however it is written; undefined for an archive, which brings none
 */
export function trustedLayers(folder: string, themeFolder: string | undefined): readonly ConfigurationLayer[] {
  const { layers } = findConfiguration(folder);
  return themeFolder === undefined ? layers : layers.filter(({ file }) => !isBelowOnDisk(dirname(file), themeFolder));
}

const merged = new WeakMap<ConfigurationLayer, Configuration>();
/** The last reading of each file, and the bytes that it was made of. */
const readings = new Map<string, { readonly bytes: Buffer; readonly layer: ConfigurationLayer }>();

/** A configuration by its absolute path, over those above its folder. @throws ConfigurationError when one is wrong */
export function parseConfiguration(file: string, bytes: Buffer): Configuration {
  return mergeLayers([parseLayer(file, bytes), ...layersAbove(dirname(dirname(file)))]);
}

function layersAbove(folder: string): ConfigurationLayer[] {
  const layers: ConfigurationLayer[] = [];
  for (let at = folder; ; at = dirname(at)) {
    const file = join(at, CONFIGURATION_FILE);
    const bytes = readIfThere(file);
    if (bytes !== undefined) layers.push(parseLayer(file, bytes));
    if (dirname(at) === at) return layers;
  }
}

function parseLayer(file: string, bytes: Buffer): ConfigurationLayer {
  const known = readings.get(file);
  if (known?.bytes.equals(bytes) === true) return known.layer;
  const layer = readLayer(file, bytes);
  readings.set(file, { bytes, layer });
  return layer;
}

function readLayer(file: string, bytes: Buffer): ConfigurationLayer {
  const source = SourceDocument.decode(file, bytes);
  if (source === undefined) throw new ConfigurationError({ what: `${file} is not a text file` });
  const read = readConfiguration(source, ConfigurationSchema, 'configuration file');
  const base = dirname(file);
  const isPath = read.platform !== undefined && /[/\\]|\.ya?ml$/.test(read.platform);
  return {
    ...read,
    platform: isPath ? resolve(base, read.platform ?? '') : read.platform,
    shelves: read.shelves.map((shelf) => resolve(base, shelf)),
    'rule-files': read['rule-files'].map((path) => resolve(base, path)),
    baseline: read.baseline === undefined ? undefined : resolve(base, read.baseline),
    sites: Object.fromEntries(Object.entries(read.sites).map(([name, site]) => [name, { ...site, folder: resolve(base, site.folder) }])),
    file,
    source,
  };
}

/** For a single value the nearest file decides; lists are joined, and maps are laid over one another. */
function mergeLayers(layers: readonly ConfigurationLayer[]): Configuration {
  const [nearest, ...others] = layers;
  if (nearest === undefined) return NO_CONFIGURATION;
  const outer = mergeLayers(others);
  return {
    themes: nearest.themes,
    platform: nearest.platform ?? outer.platform,
    shelves: [...nearest.shelves, ...outer.shelves],
    rules: { ...outer.rules, ...nearest.rules },
    'rule-files': [...nearest['rule-files'], ...outer['rule-files']],
    accept: [...nearest.accept, ...outer.accept],
    sites: { ...outer.sites, ...nearest.sites },
    baseline: nearest.baseline ?? outer.baseline,
    catalogue: nearest.catalogue ?? outer.catalogue,
    'made-for': mergedOrNone(outer['made-for'], nearest['made-for']),
    'sample-texts': nearest['sample-texts'] ?? outer['sample-texts'],
    rename: {
      keep: [...nearest.rename.keep, ...outer.rename.keep],
      include: [...nearest.rename.include, ...outer.rename.include],
    },
    pack: { exclude: [...outer.pack.exclude, ...nearest.pack.exclude] },
    file: nearest.file,
    layers,
  };
}

function mergedOrNone<T extends object>(outer: T | undefined, inner: T | undefined): T | undefined {
  return outer === undefined && inner === undefined ? undefined : ({ ...outer, ...inner } as T);
}
