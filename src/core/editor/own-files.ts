import { basename, dirname } from 'node:path';
import { isMap, isPair, isScalar, isSeq, parseDocument } from 'yaml';
import type * as z from 'zod';
import { parseConfiguration } from '../configuration/configuration.ts';
import { readConfiguration } from '../configuration/read-configuration.ts';
import { ConfigurationSchema } from '../configuration/schema.ts';
import { descriptionAt, keysAt, valuesAt } from '../configuration/schema-keys.ts';
import { OverridesSchema } from '../contents/taken-schema.ts';
import { ConfigurationError, type ConfigurationProblem } from '../errors.ts';
import { MemoryTree } from '../files/memory-tree.ts';
import { loadPlatform, shippedPlatforms } from '../platform/load.ts';
import { PlatformSchema } from '../platform/schema.ts';
import { RULES } from '../rules/rules.ts';
import { KitSchema } from '../scaffold/kit-schema.ts';
import { SourceDocument } from '../text/source-document.ts';
import { MARK } from './completions.ts';
import type { Completion } from './completion.ts';
import { OWN_FILE_NAMES } from './own-file-names.ts';

type Path = readonly (string | number)[];

/** A kind of file that is Pionero's own, and no part of what a theme is to its host. */
interface OwnFile {
  readonly files: RegExp;
  /** The keys and values that it may hold: made when they are asked for. */
  schema(): z.ZodType;
  /** Reads it as whoever uses it does. @throws ConfigurationError with its mistakes */
  readonly read?: (file: string, bytes: Buffer) => void;
  /** Names that the schema does not list: keys, or values, by the path of keys; * stands for any. */
  readonly names?: Readonly<Record<string, () => readonly string[]>>;
}

const rules = (): string[] => RULES.map(({ meta }) => meta.id);

/** Pionero's own files, by how they are called. */
const OWN_FILES: readonly OwnFile[] = [
  {
    files: OWN_FILE_NAMES.configuration,
    schema: () => ConfigurationSchema,
    read: parseConfiguration,
    names: { rules, 'accept.*.rule': rules, platform: () => shippedPlatforms().map(({ contract }) => contract.name) },
  },
  {
    files: OWN_FILE_NAMES.platform,
    schema: () => PlatformSchema,
    read: (file, bytes) => loadPlatform(MemoryTree.of({ [basename(file)]: bytes }), basename(file), file, dirname(file)),
  },
  {
    files: OWN_FILE_NAMES.kit,
    schema: () => KitSchema,
    read(file, bytes) {
      const source = SourceDocument.decode(file, bytes);
      if (source !== undefined) readConfiguration(source, KitSchema, 'kit file');
    },
  },
  // A rule finds the mistakes in a record of copies.
  { files: OWN_FILE_NAMES.overrides, schema: () => OverridesSchema },
];

function ownFile(file: string): OwnFile | undefined {
  return OWN_FILES.find(({ files }) => files.test(file));
}

/** The mistakes in a file of Pionero's own; undefined for other files, and where rules look for them. @param file absolute */
export function ownProblems(file: string, text: string): readonly ConfigurationProblem[] | undefined {
  const own = ownFile(file);
  if (own?.read === undefined) return undefined;
  try {
    own.read(file, Buffer.from(text));
    return [];
  } catch (error) {
    if (!(error instanceof ConfigurationError)) throw error;
    return error.problems.filter((problem) => problem.file === file);
  }
}

const WORD = /[\w./-]*$/;

/** Proposals for an offset of a file of Pionero's own; undefined for other files. */
export function ownCompletions(file: string, text: string, offset: number): Completion[] | undefined {
  const own = ownFile(file);
  if (own === undefined) return undefined;
  const start = offset - (WORD.exec(text.slice(0, offset))?.[0].length ?? 0);
  // What follows the cursor in its line is what is replaced, or what would make it no YAML.
  const rest = text.slice(offset).replace(/^[\w./-]*/, '');
  const end = text.length - rest.length;
  for (const isKey of [true, false]) {
    const tail = isKey && !/^\s*:/.test(rest) ? ': x' : '';
    const document = parseDocument(text.slice(0, start) + MARK + tail + rest);
    const path = document.errors.length > 0 ? undefined : pathOfMark(document.contents, isKey, []);
    if (path === undefined) continue;
    const here = path.join('.').replaceAll(/\.\d+(?=\.|$)/g, '.*');
    const named = own.names?.[here]?.() ?? [];
    const known = isKey ? keysAt(own.schema(), path).concat(named) : valuesAt(own.schema(), path).concat(named);
    const there = isKey ? document.getIn(path, true) : undefined;
    const isThere = (key: string): boolean => isMap(there) && there.has(key);
    const found = known.filter((each) => !isThere(each));
    if (found.length > 0)
      return found.map((label) => ({
        label,
        insert: tail === '' ? label : `${label}: `,
        kind: isKey ? 'field' : 'value',
        about: isKey ? descriptionAt(own.schema(), [...path, label]) : undefined,
        start,
        end,
      }));
  }
  return [];
}

/** The description of the key at an offset of a file of Pionero's own. */
export function ownDescription(
  file: string,
  text: string,
  offset: number,
): { start: number; end: number; key: string; about: string } | undefined {
  const own = ownFile(file);
  if (own === undefined) return undefined;
  const find = (node: unknown, path: Path): ReturnType<typeof ownDescription> => {
    const items = isMap(node) || isSeq(node) ? node.items : [];
    for (const [i, item] of items.entries()) {
      if (!isPair(item)) {
        const found = find(item, [...path, i]);
        if (found !== undefined) return found;
        continue;
      }
      const key = isScalar(item.key) ? String(item.key.value) : '';
      const [start = 0, end = 0] = (isScalar(item.key) ? item.key.range : undefined) ?? [];
      if (start <= offset && offset <= end) {
        const about = descriptionAt(own.schema(), [...path, key]);
        return about === undefined ? undefined : { start, end, key, about };
      }
      const found = find(item.value, [...path, key]);
      if (found !== undefined) return found;
    }
    return undefined;
  };
  return find(parseDocument(text).contents, []);
}

/** The path of the map that has the mark as a key, or of the value that it is. */
function pathOfMark(node: unknown, isKey: boolean, path: Path): Path | undefined {
  if (isScalar(node)) return !isKey && String(node.value).includes(MARK) ? path : undefined;
  if (isSeq(node)) return firstOf(node.items.map((item, i) => () => pathOfMark(item, isKey, [...path, i])));
  if (!isMap(node)) return undefined;
  return firstOf(
    node.items.map(({ key, value }) => () => {
      const name = isScalar(key) ? String(key.value) : '';
      return isKey && name.includes(MARK) ? path : pathOfMark(value, isKey, [...path, name]);
    }),
  );
}

function firstOf<T>(makers: readonly (() => T | undefined)[]): T | undefined {
  for (const make of makers) {
    const made = make();
    if (made !== undefined) return made;
  }
  return undefined;
}
