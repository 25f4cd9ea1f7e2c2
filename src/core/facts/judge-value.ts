import semver from 'semver';
import * as z from 'zod';
import spdxIds from 'spdx-license-ids/index.json' with { type: 'json' };
import { parse as parseLanguage } from 'bcp-47';
import type { ValueNode, WritableValue } from '../documents/syntax.ts';
import { judgeName, type Platform } from '../platform/platform.ts';
import type { FieldContract, FieldKind } from '../platform/schema.ts';
import { isColor } from './color.ts';
import { isLicenseExpression } from '../licenses/license-ids.ts';
import { statedLicense } from '../licenses/stated-license.ts';
import { nearest } from '../text/nearest.ts';
import { matchesWhole } from '../text/pattern.ts';
import { wholePattern } from '../names/shape.ts';

/** The mistake in a value, and the value that was surely meant, when there is only one. */
export interface ValueVerdict {
  /** The value that the field wants: “a version like 1.4.0”. */
  readonly wanted: string;
  readonly suggestion?: string | undefined;
  /** The whole value of the field with the suggestion: of a list the list, with the entry replaced. */
  readonly whole?: WritableValue | undefined;
  /** True when the suggestion is the only sensible reading of what stands there. */
  readonly isCertain?: boolean | undefined;
}

/** Judges a field's value by its type; undefined when it is right or cannot be known. */
export function judgeNode(node: ValueNode, field: FieldContract, platform: Platform): ValueVerdict | undefined {
  const verdict = judgeAs(node, field, platform);
  if (verdict === undefined || field.or === undefined) return verdict;
  if (field.or.some((type) => judgeAs(node, { ...field, type, of: undefined }, platform) === undefined)) return undefined;
  return { wanted: [verdict.wanted, ...field.or.map((type) => TYPE_NAMES[type] ?? `a ${type}`)].join(', or ') };
}

/** The words that people use for a value of a type, where they differ from the type’s name. */
const TYPE_NAMES: Partial<Readonly<Record<FieldKind, string>>> = {
  text: 'a text',
  list: 'a list',
  map: 'a map of keys and values',
  boolean: 'true or false',
  integer: 'a whole number',
};

function judgeAs(node: ValueNode, field: FieldContract, platform: Platform): ValueVerdict | undefined {
  if (node.kind === 'unknown') return undefined;
  if (field.type === 'list' && field.separator !== undefined) {
    if (node.kind !== 'scalar') return { wanted: `one text, its entries with “${field.separator}” between them` };
    const parts = String(node.value ?? '')
      .split(field.separator)
      .map((part) => part.trim());
    return judgeItems(
      parts.map((value) => ({ ...node, value })),
      field,
      platform,
    );
  }
  if (field.type === 'list') return node.kind === 'list' ? judgeItems(node.items, field, platform) : { wanted: 'a list' };
  if (field.type === 'map') {
    if (node.kind !== 'map') return { wanted: 'a map of keys and values' };
    if (field.of === undefined) return undefined;
    const values = node.entries.flatMap(({ value }) => (value.kind === 'list' ? value.items : [value]));
    const verdict = judgeItems(values, field, platform);
    // The verdict does not say which of the entries has to be written again.
    return verdict === undefined ? undefined : { wanted: verdict.wanted };
  }
  return judgeScalar(node, field.type, field, platform);
}

function isShaped(text: string, shape: string): boolean {
  return wholePattern(shape).test(text);
}

/** The verdict on the first entry that is wrong, with the list as it would be right. */
function judgeItems(items: readonly ValueNode[], field: FieldContract, platform: Platform): ValueVerdict | undefined {
  for (const [i, item] of items.entries()) {
    const verdict = judgeScalar(item, field.of ?? 'text', field, platform);
    if (verdict === undefined) continue;
    const { suggestion } = verdict;
    const texts = items.map((each) => (each.kind === 'scalar' ? String(each.value) : ''));
    return suggestion === undefined ? verdict : { ...verdict, whole: texts.with(i, suggestion) };
  }
  return undefined;
}

function judgeScalar(node: ValueNode, type: FieldKind, field: FieldContract, platform: Platform): ValueVerdict | undefined {
  if (node.kind !== 'scalar') return { wanted: 'a single value' };
  if (node.value === null || node.value === '') return undefined;
  const text = String(node.value);
  if (text === field.none) return undefined;
  if (field.shape !== undefined) {
    if (!isShaped(text, field.shape)) return { wanted: `a text like ${field.shape}` };
    // The parts of a shaped path are judged where the files are known.
    if (type === 'path') return undefined;
  }
  if (field.pattern !== undefined && !matchesWhole(text, field.pattern))
    return { wanted: field.grammar ?? `a text that matches ${field.pattern}` };
  return JUDGES[type](text, field, platform, node.value);
}

type Judge = (text: string, field: FieldContract, platform: Platform, value: unknown) => ValueVerdict | undefined;

/** Types that standards define, whatever the platform and the field. */
const STANDARD_JUDGES = {
  version: (text) => {
    if (semver.valid(text) !== null && text === semver.valid(text)) return undefined;
    const meant = semver.valid(text) ?? (/^v?\d+(\.\d+)?$/.test(text) ? semver.coerce(text)?.version : undefined);
    return { wanted: 'a version of three numbers like 1.4.0 (Semantic Versioning)', suggestion: meant, isCertain: meant !== undefined };
  },
  range: (text) => (semver.validRange(text) === null ? { wanted: 'a range of releases like “>=2 <4” or “2 || 3”' } : undefined),
  url: (text) => {
    const url = URL.canParse(text) ? new URL(text) : undefined;
    return url?.protocol === 'https:' || url?.protocol === 'http:' ? undefined : { wanted: 'a web address that begins with https://' };
  },
  email: (text) => (z.email().safeParse(text).success ? undefined : { wanted: 'an e-mail address' }),
  license: judgeLicense,
  language: (text) => (parseLanguage(text).language ? undefined : { wanted: 'a language tag like en or pt-BR (BCP 47)' }),
  color: (text) => (isColor(text) ? undefined : { wanted: 'a color like #336699' }),
  integer: (text) => (/^-?\d+$/.test(text) ? undefined : { wanted: 'a whole number' }),
} satisfies Partial<Record<FieldKind, (text: string) => ValueVerdict | undefined>>;

export type StandardKind = keyof typeof STANDARD_JUDGES;

/** Whether a text is a value of a type that a standard defines. */
export function fitsType(text: string, kind: StandardKind): boolean {
  return STANDARD_JUDGES[kind](text) === undefined;
}

/** One judge a type. Standards are judged by the libraries that know them. */
const JUDGES: Readonly<Record<FieldKind, Judge>> = {
  ...STANDARD_JUDGES,
  text: (text, field) => {
    const longest = field['max-length'];
    return longest !== undefined && Array.from(text).length > longest
      ? { wanted: `at most ${longest} characters, not ${Array.from(text).length}` }
      : undefined;
  },
  id: (text, _field, platform) => nameVerdict(text, platform, 'id'),
  vendor: (text, _field, platform) => nameVerdict(text, platform, 'vendor'),
  // A parent is right when a shelf has it; the rule for parents says so better than a grammar could.
  parent: () => undefined,
  release: (text, _field, { contract }) =>
    /^\d+(\.\d+)*$/.test(text) ? undefined : { wanted: `a release of the host like ${contract.releases.at(-1)}` },
  boolean: (_text, _field, _platform, value) => (typeof value === 'boolean' ? undefined : { wanted: 'true or false' }),
  choice: (text, field) => {
    const values = field.values ?? [];
    if (values.includes(text)) return undefined;
    const near = nearest(text, values);
    return { wanted: `one of ${values.join(', ')}`, suggestion: near, isCertain: near !== undefined };
  },
  list: () => ({ wanted: 'a list' }),
  map: () => ({ wanted: 'a map of keys and values' }),
  path: (text, { outside }) => {
    const isInside = !/^\/|(^|\/)\.\.(\/|$)/.test(text);
    if (!text.includes('\\') && (isInside || outside === 'allowed')) return undefined;
    return { wanted: outside === 'allowed' ? 'a path, with “/”' : 'a path inside the theme, with “/”' };
  },
  // Rules of their own look whether the bundle or section is there.
  bundle: () => undefined,
  theme: () => undefined,
  section: () => undefined,
};

function nameVerdict(text: string, platform: Platform, kind: 'id' | 'vendor'): ValueVerdict | undefined {
  const grammar = platform.contract[kind];
  const verdict = grammar === undefined ? undefined : judgeName(text, grammar);
  return verdict === undefined ? undefined : { wanted: `an ${kind}: ${grammar?.grammar}`, suggestion: verdict.suggestion };
}

function judgeLicense(text: string): ValueVerdict | undefined {
  if (isLicenseExpression(text)) return undefined;
  const sameButCase = spdxIds.find((id) => id.toLowerCase() === text.toLowerCase());
  return {
    wanted: 'a license of the SPDX list, like MIT or GPL-2.0-or-later',
    // “GPLv2 or later” is farther from its id than from another.
    suggestion: sameButCase ?? statedLicense(`License: ${text}`) ?? nearest(text, spdxIds),
    isCertain: sameButCase !== undefined,
  };
}

/** A value of each type as its author would type it; `{id}` and `{found}` stand for the theme’s id and what is there now. */
const SAMPLES: Partial<Readonly<Record<FieldKind, string>>> = {
  version: '1.0.0',
  range: '>={release}',
  release: '{release}',
  url: 'https://{id}.example/',
  email: '{id}@{id}.example',
  color: '#336699',
  language: 'en',
  boolean: 'true',
  integer: '1',
  license: 'MIT',
  list: '[{found}]',
  map: '{ {found}: … }',
};

/** What could stand in a field, for whoever typed something that cannot; undefined when nothing can be proposed. */
export function sampleValue(field: FieldContract, platform: Platform, id: string, found: string): string | undefined {
  const { type, of, separator, values, shape, pattern } = field;
  const entry = of === undefined ? undefined : SAMPLES[of];
  const sample =
    type === 'list' && entry !== undefined
      ? separator === undefined
        ? `[${entry}]`
        : entry
      : type === 'list' && separator !== undefined
        ? '{found}'
        : (values?.[0] ?? SAMPLES[type]);
  const single = /^[\w][\w -]*$/.test(found) ? found : 'huts';
  const filled = sample
    ?.replaceAll('{id}', id)
    .replaceAll('{found}', single)
    .replaceAll('{release}', platform.contract.releases.at(-1) ?? '');
  const isFitting = filled !== undefined && shape === undefined && (pattern === undefined || matchesWhole(filled, pattern));
  return isFitting ? filled : undefined;
}
