/** Letters of other alphabets that look like Latin ones (Unicode Technical Standard 39, section 4, as far as names of themes go). */
const LOOKS: readonly (readonly [others: string, latin: string])[] = [
  // Cyrillic.
  ['аеһіїјкмнорԛгѕтуԝхсԁьүө', 'aehiijkmhopqrstywxcdbyo'],
  ['АВЕНІЈКМОРЅТУХС', 'ABEHIJKMOPSTYXC'],
  // Greek.
  ['αβγεηικνορσςτυχω', 'abyenikvopoctuxw'],
  ['ΑΒΕΖΗΙΚΜΝΟΡΤΥΧ', 'ABEZHIKMNOPTYX'],
];

/** Latin letters that no decomposition takes apart, as they are written without what is special about them. */
const PLAIN: Readonly<Record<string, string>> = {
  ...{ ß: 'ss', æ: 'ae', œ: 'oe', þ: 'th', Æ: 'Ae', Œ: 'Oe', Þ: 'Th' },
  ...{ ø: 'o', ł: 'l', đ: 'd', ð: 'd', ħ: 'h', ı: 'i', ŋ: 'n', Ø: 'O', Ł: 'L', Đ: 'D', Ð: 'D', Ħ: 'H', Ŋ: 'N' },
};

const LATIN_BY_LOOK: ReadonlyMap<string, string> = new Map(
  LOOKS.flatMap(([others, latin]) => Array.from(others, (other, i) => [other, latin[i] ?? other] as const)),
);

const NOT_ASCII = /\P{ASCII}/gu;

/** Accents fall off, and what else makes a Latin letter special: `Ünï` becomes `Uni`, `Łąka` becomes `Laka`. */
export function withoutAccents(name: string): string {
  return name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(NOT_ASCII, (letter) => PLAIN[letter] ?? letter);
}

/** A name as a quick eye reads it: in plain Latin letters, where a letter looks like one. */
export function asItLooks(name: string): string {
  return withoutAccents(name).replace(NOT_ASCII, (letter) => LATIN_BY_LOOK.get(letter) ?? letter);
}

/** The first letter that only looks like a Latin one, in a name whose letters all do; undefined in others. */
export function strayLetter(name: string): { letter: string; looksLike: string } | undefined {
  if (/[^\P{L}A-Za-z]/u.test(asItLooks(name))) return undefined;
  const letter = name.match(NOT_ASCII)?.find((each) => LATIN_BY_LOOK.has(each));
  return letter === undefined ? undefined : { letter, looksLike: asItLooks(letter) };
}
