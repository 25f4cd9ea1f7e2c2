import { weigh, type Weight } from '../names/weight.ts';
import { fillShape } from '../names/shape.ts';
import { asItLooks } from '../names/look-alikes.ts';
import { isSpelling, spell, splitWords, SPELLINGS } from '../names/spelling.ts';
import { judgeName, type Platform } from '../platform/platform.ts';
import { isSlip } from '../text/nearest.ts';
import { isOneFile } from '../theme/place.ts';
import type { Shelves } from '../theme/shelf.ts';

/** Why an id cannot be used. */
export type IdProblem =
  | { readonly code: 'grammar'; readonly problem: string }
  /** A theme on a shelf has it, or one that differs only in the case of letters. */
  | { readonly code: 'taken'; readonly id: string; readonly folder: string }
  /** It comes with every host. */
  | { readonly code: 'brought' }
  /** Someone has handed a theme of that name in. */
  | { readonly code: 'in-catalogue' };

/** An id that people could take for another: the same letters with other separators, letters that look alike, one slip of the finger. */
export interface Confusable {
  readonly id: string;
  readonly how: 'separators' | 'look-alike' | 'slip';
  readonly where: NamePlace;
}

/** Where a name is that is taken: on a shelf, the host’s own, in the catalogue. */
export type NamePlace = 'shelf' | 'host' | 'catalogue';

/** The qualities of an id, judged before anything has the name. */
export interface IdVerdict {
  readonly id: string;
  readonly problems: readonly IdProblem[];
  readonly confusable: readonly Confusable[];
  /** How much it says by itself, and so how easy it is to rename later. */
  readonly weight: Weight;
  /** How it is written in each place where the platform writes it. */
  readonly written: readonly { readonly where: string; readonly text: string }[];
  /** Ids like it that can be used, and that nobody takes for another. */
  readonly alternatives: readonly string[];
}

const MOST_ALTERNATIVES = 4;

/** Judges an id for a platform, beside the themes on its shelves, and the names that a catalogue has. */
export function judgeId(id: string, platform: Platform, shelves: Shelves, catalogue: readonly string[] = []): IdVerdict {
  const known = namesAround(platform, shelves, catalogue);
  const problems = problemsOf(id, platform, shelves, catalogue);
  const { suggestion } = judgeName(id, platform.contract.id) ?? {};
  const base = suggestion ?? id;
  const isGood = (candidate: string): boolean =>
    candidate !== id && problemsOf(candidate, platform, shelves, catalogue).length === 0 && confusableWith(candidate, known).length === 0;
  const isWanted =
    problems.length > 0 ||
    confusableWith(id, known).length > 0 ||
    weigh(
      id,
      known.map((each) => each.id),
    ) !== 'distinctive';
  return {
    id,
    problems,
    confusable: confusableWith(id, known),
    weight: weigh(
      id,
      known.map((each) => each.id),
    ),
    written: writtenForms(id, platform),
    alternatives: isWanted ? [...new Set(likeIt(base, platform))].filter(isGood).slice(0, MOST_ALTERNATIVES) : [],
  };
}

interface KnownName {
  readonly id: string;
  readonly where: NamePlace;
}

function namesAround({ contract }: Platform, shelves: Shelves, catalogue: readonly string[]): KnownName[] {
  const { 'built-in': brought, 'always-last': last } = contract.inheritance;
  const shelved = shelves.list().map(({ names }) => ({ id: names.id, where: 'shelf' as const }));
  const host = [...brought, ...(last === undefined ? [] : [last]), ...contract.id.reserved].map((id) => ({
    id,
    where: 'host' as const,
  }));
  const elsewhere = catalogue.map((id) => ({ id, where: 'catalogue' as const }));
  const all: readonly KnownName[] = [...shelved, ...host, ...elsewhere];
  return all.filter((each, i) => all.findIndex(({ id }) => id === each.id) === i);
}

function problemsOf(id: string, { contract }: Platform, shelves: Shelves, catalogue: readonly string[]): IdProblem[] {
  const problems: IdProblem[] = [];
  const verdict = judgeName(id, contract.id);
  if (verdict !== undefined) problems.push({ code: 'grammar', problem: verdict.problem });
  const taken = shelves.list().find(({ names }) => names.id.toLowerCase() === id.toLowerCase());
  if (taken !== undefined) problems.push({ code: 'taken', id: taken.names.id, folder: taken.folder });
  else if (verdict === undefined && [...contract.inheritance['built-in'], contract.inheritance['always-last']].includes(id))
    problems.push({ code: 'brought' });
  // A theme that is on a shelf too is the same one, most likely: that has been said.
  if (taken === undefined && isIn(catalogue, id)) problems.push({ code: 'in-catalogue' });
  return problems;
}

function isIn(names: readonly string[], id: string): boolean {
  return names.some((name) => name.toLowerCase() === id.toLowerCase());
}

/** Names that an id could be confused with; it does not count as such itself. */
export function confusableWith(id: string, known: readonly KnownName[]): Confusable[] {
  return known.flatMap((other): Confusable[] => {
    if (other.id.toLowerCase() === id.toLowerCase()) return [];
    const how = likeness(id, other.id);
    return how === undefined ? [] : [{ ...other, how }];
  });
}

/** The themes that people could take for one of an id. */
export function confusableOn(id: string, platform: Platform, shelves: Shelves, catalogue: readonly string[] = []): Confusable[] {
  return confusableWith(id, namesAround(platform, shelves, catalogue));
}

function likeness(a: string, b: string): Confusable['how'] | undefined {
  if (splitWords(a).join('') === splitWords(b).join('')) return 'separators';
  if (skeleton(a) === skeleton(b)) return 'look-alike';
  return isSlip(a, b) && isSlip(b, a) ? 'slip' : undefined;
}

/** Latin letters and digits that look alike, as one. */
const ALIKE: readonly (readonly [RegExp, string])[] = [
  [/rn/g, 'm'],
  [/vv/g, 'w'],
  [/cl/g, 'd'],
  [/[1i|!l]/g, 'l'],
  [/[0o]/g, 'o'],
  [/[5s]/g, 's'],
  [/[2z]/g, 'z'],
];

function skeleton(id: string): string {
  const plain = asItLooks(id)
    .toLowerCase()
    .replace(/[-_. ]/g, '');
  return ALIKE.reduce((text, [letters, one]) => text.replace(letters, one), plain);
}

/** The id in every spelling that the platform puts it into, each once, with the place that wants it. */
function writtenForms(id: string, platform: Platform): IdVerdict['written'] {
  const { contract } = platform;
  const names = { id, title: spell(splitWords(id), 'title') };
  const places: (readonly [where: string, shape: string | undefined])[] = [
    [isOneFile(platform) ? 'file' : 'folder', contract.home.split('/').at(-1)],
    ...contract.documents.map(({ path }) => ['document', path] as const),
    ...contract.documents.flatMap(({ fields }) => fields.map(({ shape, key }) => [[key].flat().join('.'), shape] as const)),
    ['texts', contract.strings?.file],
    ...contract.identifiers.flatMap(({ shape }) => shape.map((each) => ['in code', each] as const)),
    ['package', `${contract.package.name}.${contract.package.formats[0] ?? ''}`],
  ];
  const seen = new Set<string>();
  return places.flatMap(([where, shape]) => {
    if (shape === undefined || !/\{id(?::\w+)?\}/.test(shape)) return [];
    const text = fillShape(shape, names).replace(/\{\w+\}/g, '…');
    if (seen.has(text)) return [];
    seen.add(text);
    return [{ where, text }];
  });
}

/** Ids like one, put together as the platform does it. */
function likeIt(id: string, { contract }: Platform): string[] {
  const words = splitWords(id);
  const { spelling } = contract.id;
  const style = spelling === 'free' || !isSpelling(spelling) ? 'kebab' : spelling;
  const longer = [
    [...words, 'theme'],
    ['the', ...words],
    [...words, 'look'],
    [...words, 'base'],
    ['my', ...words],
    [...words, 'two'],
  ];
  // No word twice: “my-theme-theme” helps nobody.
  return [words, ...longer.filter((each) => new Set(each).size === each.length)].map((each) => SPELLINGS[style](each));
}
