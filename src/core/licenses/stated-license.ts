import currentIds from 'spdx-license-ids/index.json' with { type: 'json' };
import { licenseIds } from './license-ids.ts';

/** One way in which people write a license's name. */
interface Naming {
  readonly pattern: RegExp;
  /** The SPDX id; undefined when the words do not tell which of a family it is. */
  readonly id: (groups: Readonly<Record<string, string | undefined>>) => string | undefined;
  /** Whether it is a word of other things, too, and stands for a license only where licenses are spoken of. */
  readonly isWord?: boolean;
}

/** So much of a text is looked at: the patterns try much where a text is made to have them try. */
const HEAD_CHARACTERS = 4000;

const GAP = String.raw`[\s,;:.-]{0,3}`;
const VERSION = String.raw`(?:version|ver\.?|v\.?)?\s{0,3}(?<version>\d(?:\.\d)?)(?![\d.]{0,9}\d)`;
const OPTION = String.raw`(?:\(?at your option\)?)?`;
const LATER = String.raw`(?<later>\+|-or-later|${GAP}(?:of the licen[cs]e)?${GAP}${OPTION}${GAP}\bor${GAP}${OPTION}${GAP}(?:any )?(?:later|newer|above|greater|higher)(?: version)?)?`;
const GNU = String.raw`(?:gnu )?(?:(?<kind>affero|lesser|library) )?(?:general public licen[cs]e|(?<short>[al]?)gpl)`;
const FILLING = String.raw`(?: ?\([al]?gpl\))?(?:,? as published by the free software foundation)?${GAP}(?:licen[cs]e)?${GAP}(?:either )?`;

const gnuId: Naming['id'] = ({ kind = '', short = '', version = '', later }) => {
  const family =
    { affero: 'AGPL', a: 'AGPL', lesser: 'LGPL', library: 'LGPL', l: 'LGPL' }[kind.toLowerCase() || short.toLowerCase()] ?? 'GPL';
  return current(`${family}-${versionOf(version)}-${later === undefined ? 'only' : 'or-later'}`);
};

const NAMINGS: readonly Naming[] = [
  { pattern: new RegExp(String.raw`(?<![\w-])${GNU}${FILLING}${VERSION}${LATER}`, 'gi'), id: gnuId },
  { pattern: new RegExp(String.raw`\bversion (?<version>\d(?:\.\d)?)${LATER} of the ${GNU}`, 'gi'), id: gnuId },
  {
    pattern: /\bapache(?: software)?(?: public)?(?: licen[cs]e)?[\s,-]*(?:version|v\.?)? ?2(?:\.0)?(?![\d.]*\d)/gi,
    id: () => 'Apache-2.0',
  },
  {
    pattern: /\b(?:mozilla public licen[cs]e|mpl)[\s,-]*(?:version|v\.?)? ?(?<version>\d\.\d)/gi,
    id: ({ version }) => current(`MPL-${version}`),
  },
  {
    pattern: /\b(?:eclipse public licen[cs]e|epl)[\s,-]*(?:version|v\.?)? ?(?<version>\d\.\d)/gi,
    id: ({ version }) => current(`EPL-${version}`),
  },
  { pattern: /\b(?:(?:3|three)[ -]clause bsd|bsd[ -](?:3|three)[ -]clause|(?:new|modified|revised) bsd)\b/gi, id: () => 'BSD-3-Clause' },
  { pattern: /\b(?:(?:2|two)[ -]clause bsd|bsd[ -](?:2|two)[ -]clause|simplified bsd|freebsd licen[cs]e)\b/gi, id: () => 'BSD-2-Clause' },
  { pattern: /\bcc0\b|\bcreative commons zero\b/gi, id: () => 'CC0-1.0' },
  {
    pattern: /\bcc[ -](?<terms>by(?:-(?:nc|nd|sa))*)[ -]v?(?<version>\d\.\d)/gi,
    id: ({ terms = '', version }) => current(`CC-${terms.toUpperCase()}-${version}`),
  },
  {
    pattern:
      /\bcreative commons attribution(?<terms>(?:[ -]{0,3}(?:non-?commercial|share-?alike|no-?deriv(?:ative|ative work)?s))*)[ -]{0,3}(?:international|unported)?[ -]{0,3}(?:licen[cs]e)?[ -]{0,3}(?:version|v\.?)? ?(?<version>\d\.\d)/gi,
    id: ({ terms = '', version }) => {
      const marks = [...terms.matchAll(/non-?commercial|share-?alike|no-?deriv/gi)].map(
        ([word]) => ({ n: 'ND', s: 'SA' })[word.charAt(0).toLowerCase()] ?? '',
      );
      return current(['CC-BY', ...marks, version].join('-'));
    },
  },
  {
    pattern: /\b(?:(?:sil )?open font licen[cs]e|sil ofl|ofl)\b(?:[\s,-]*(?:version|v\.?)? ?(?<version>1\.[01]))?/gi,
    id: ({ version = '1.1' }) => `OFL-${version}`,
  },
  { pattern: /\bbsd zero clause\b/gi, id: () => '0BSD' },
  { pattern: /\b(?:the )?unlicense\b/gi, id: () => 'Unlicense' },
  { pattern: /\bwtfpl\b/gi, id: () => 'WTFPL' },
  { pattern: /\b(?:mit(?:[ /-]?x11)?|expat|x11\/mit)\b(?![-.]\w)/gi, id: () => 'MIT', isWord: true },
  { pattern: /\bisc\b/gi, id: () => 'ISC', isWord: true },
  { pattern: /\bzlib\b/gi, id: () => 'Zlib', isWord: true },
  // Any id of the list that no word of a language is.
  { pattern: /(?<![\w.+-])(?<id>\w[\w.-]*\w)/g, id: ({ id = '' }) => (/-.*\d|\d.*-/.test(id) ? current(id) : undefined) },
];

const IDS: ReadonlyMap<string, string> = new Map(currentIds.map((id) => [id.toLowerCase(), id]));

/** The id as the list has it; undefined when it has none like it. */
function current(id: string): string | undefined {
  return IDS.get(id.toLowerCase());
}

function versionOf(text: string): string {
  return text.includes('.') ? text : `${text}.0`;
}

/** Where licenses are spoken of. */
const CONTEXT = /licen[cs]|releas|terms|distribut|dual/i;
const CONTEXT_CHARACTERS = 60;

/** Words farther apart are two statements; the first is about the file. */
const ONE_STATEMENT = 120;

/**
 * A file's statement of its own license, as an SPDX expression: by the tag of the SPDX specification (annex E), by a line that begins
 * with “License”, or in the words of its head. Undefined when it says none, or words that stand for several.
 */
export function statedLicense(text: string): string | undefined {
  return statedIn(text.slice(0, HEAD_CHARACTERS));
}

function statedIn(text: string): string | undefined {
  const tag = /SPDX-License-Identifier:[ \t]*([^\r\n*]+?)[ \t]*(?:\*\/|-->|[\r\n]|$)/.exec(text)?.[1];
  if (tag !== undefined && licenseIds(tag).length > 0) return tag;
  const line = /(?:@licen[cs]e\b|\blicen[cs]e[ \t]*:)[ \t:]*([^\r\n]*)/i.exec(text)?.[1]?.replace(/[ \t]*(?:\*+\/|-->)?[ \t]*$/, '');
  if (line !== undefined) {
    const expression = line.replace(/^\((.*)\)$/, '$1');
    if (licenseIds(expression).length > 0) return expression;
    const named = namedIn(line, true);
    if (named !== undefined) return named;
  }
  // Signs of comments stand between the words of a sentence.
  return namedIn(text.replaceAll(/[\s*#;"“”|]+(?:\/\/)?[\s*#;"“”|]*/g, ' '), false);
}

interface Named {
  readonly id: string;
  readonly start: number;
  readonly end: number;
}

/** @param isAbout whether the whole text is about a license */
function namedIn(text: string, isAbout: boolean): string | undefined {
  const all = NAMINGS.flatMap(({ pattern, id, isWord }) =>
    [...text.matchAll(pattern)].flatMap((match): Named[] => {
      const start = match.index;
      const end = start + match[0].length;
      const around = text.slice(Math.max(0, start - CONTEXT_CHARACTERS), end + CONTEXT_CHARACTERS);
      const found = isWord === true && !isAbout && !CONTEXT.test(around) ? undefined : id(match.groups ?? {});
      return found === undefined ? [] : [{ id: found, start, end }];
    }),
  ).sort((a, b) => a.start - b.start || b.end - a.end);
  const [first, ...others] = all;
  if (first === undefined) return undefined;
  const statement = [first];
  for (const each of others) {
    const last = statement.at(-1) ?? first;
    if (each.start - last.end > ONE_STATEMENT) break;
    if (!statement.some(({ id }) => familyOf(id) === familyOf(each.id))) statement.push(each);
  }
  const before = text.slice(Math.max(0, first.start - CONTEXT_CHARACTERS), first.start);
  const between = statement.slice(1).map(({ start }, i) => text.slice(statement[i]?.end, start));
  const isChoice = between.some((words) => /\bor\b|^\s?\/\s?$/i.test(words)) || /\b(?:dual|either|choice|choose)/i.test(before);
  return statement.map(({ id }) => id).join(isChoice ? ' OR ' : ' AND ');
}

/** The same license said twice, once with “or later”, is one. */
function familyOf(id: string): string {
  return id.replace(/-(?:only|or-later)$/, '');
}
