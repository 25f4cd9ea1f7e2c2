/** What nobody but its owner may know, where it stands in a text. */
export interface Secret {
  readonly kind: 'key' | 'credential';
  readonly start: number;
  readonly end: number;
}

/** Private keys in the text forms that tools write them in (RFC 7468 and older, OpenPGP’s armour, and one of terminals). */
const PRIVATE_KEY = /-----BEGIN (?:[A-Z0-9]+ )*PRIVATE KEY(?: BLOCK)?-----|^PuTTY-User-Key-File-\d/gm;

/** Keys that services give out begin so that they are found wherever they are left lying. No length is open: many starts in a long word would each go to its end. */
const GIVEN_OUT = new RegExp(
  [
    'gh[oprsu]_[A-Za-z0-9]{36,255}',
    '_pat_[A-Za-z0-9_]{22,255}',
    'glpat-[A-Za-z0-9_-]{20,255}',
    String.raw`npm_[A-Za-z0-9]{36}(?![\w-])`,
    'pypi-[A-Za-z0-9_-]{36,255}',
    'xox[abeprs]-[A-Za-z0-9-]{20,255}',
    String.raw`A[KS]IA[A-Z0-9]{16}(?![\w-])`,
    String.raw`AIza[A-Za-z0-9_-]{35}(?![\w-])`,
    '[prs]k_live_[A-Za-z0-9]{20,255}',
    'sk-[A-Za-z0-9_-]{32,255}',
    String.raw`SG\.[A-Za-z0-9_-]{20,99}\.[A-Za-z0-9_-]{20,99}`,
    // A signed token (RFC 7519): what it says begins as an object does, in base 64.
    // A part of something longer is not tried from each of its characters.
    String.raw`(?<![A-Za-z0-9_-])eyJ[A-Za-z0-9_-]{10,255}\.eyJ[A-Za-z0-9_-]{10,2000}\.[A-Za-z0-9_-]{20,999}`,
  ].join('|'),
  'g',
);

/** How names of secrets end, in any case: a pattern that ignores it takes twice as long. */
const ENDS = String.raw`[kK][eE][yY]|[sS][eE][cC][rR][eE][tT]|[tT][oO][kK][eE][nN]|[pP][aA][sS][sS](?:[wW](?:[oO][rR])?[dD]|[pP][hH][rR][aA][sS][eE])`;

/** A name and its value in quotes, as code and documents have them. */
const QUOTED = new RegExp(String.raw`(${ENDS})["'\x60\]]{0,2}\s{0,9}(:|=>?|,)\s{0,9}(["'\x60])([^\s"'\x60<>{}$%]{8,200})\3`, 'g');

/** A character of a value without quotes. */
const BARE = String.raw`[^\s"'#;,()<>{}$%]`;

/** A name and its value, without quotes, at the end of a line. The length is tested first: a long word has many ends. */
const ON_A_LINE = new RegExp(String.raw`(${ENDS})[ \t]*[:=][ \t]*(?!${BARE}{201})(${BARE}{8,200})[ \t]*$`, 'gm');

/** The names, whole: there are other keys and tokens. */
const NAME =
  /(?:(?:api|access|private|secret(?:[_-]?access)?)[_-]?key|(?:access|api|auth|bearer|bot|deploy|personal|refresh|secret|session)[_-]?token|secret|passw(?:or)?d|passphrase)$/i;

/** Those of constants say enough. */
const CONSTANT = /[A-Z]_TOKEN$/;

/** What goes before a value on a line of settings: a word of a shell, the name. */
const BEFORE_VALUE = /(?:^|\n)[ \t]*(?:[\w.-]{1,40}[ \t]+)?[\w./:-]{1,200}$/;

/** `machine`, `login` and `password`, as clients of servers keep them. */
const OF_A_MACHINE = /\bmachine\s+\S+\s+login\s+\S+\s+password\s+(\S{6,200})/g;

/** User and password in an address (RFC 3986, section 3.2.1). */
const IN_AN_ADDRESS = /:\/\/[^\s:@/"'<>]{1,64}:([^\s:@/"'<>{}$%]{6,64})@[\w[]/g;

/** The credentials that a client sends (RFC 9110, section 11.6.2). */
const SENT = /authorization["']?\s*[:=,]\s*["'\x60]?(?:basic|bearer|token)\s+([A-Za-z0-9+/_=.-]{16,})/gi;

/** Something of it stands wherever a pattern fits, but for addresses. One look for it is quicker than all of them. */
const SIGNS =
  /[kK][eE][yY]|[sS][eE][cC][rR][eE][tT]|[tT][oO][kK][eE]|[pP][aA][sS][sS]|machine|[aA]uthoriz|gh[oprsu]_|_pat_|glpat-|npm_|pypi-|xox[abeprs]-|A[KS]IA|AIza|k_live_|sk-|SG\.|eyJ/;

/**
 * Private keys, keys of services, passwords.
 * @param isCode whether what stands without quotes is code, and no value
 */
export function* findSecrets(text: string, isCode: boolean): Generator<Secret> {
  const hasSigns = SIGNS.test(text);
  if (hasSigns)
    for (const { 0: found, index } of text.matchAll(PRIVATE_KEY)) yield { kind: 'key', start: index, end: index + found.length };
  const seen = new Set<number>();
  for (const { pattern, isWanted } of hasSigns ? PATTERNS : [ADDRESSED]) {
    if (isCode && pattern === ON_A_LINE) continue;
    for (const match of text.matchAll(pattern)) {
      const value = match.at(-1) ?? '';
      const start = match.index + match[0].lastIndexOf(value);
      if (seen.has(start) || !isWanted(match, value)) continue;
      seen.add(start);
      yield { kind: 'credential', start, end: start + value.length };
    }
  }
}

interface Pattern {
  /** Its last group is the value; without a group, it is all of it. */
  readonly pattern: RegExp;
  readonly isWanted: (match: RegExpExecArray, value: string) => boolean;
}

const ADDRESSED: Pattern = { pattern: IN_AN_ADDRESS, isWanted: (_, value) => looksMade(value) };

const PATTERNS: readonly Pattern[] = [
  ADDRESSED,
  {
    pattern: GIVEN_OUT,
    // A part of a longer word does not count, but for the end of the name of a service.
    isWanted: ({ index, input }, value) => (value.startsWith('_') || !/[\w-]/.test(input.charAt(index - 1))) && !isPlaceholder(value),
  },
  {
    pattern: QUOTED,
    // What follows a comma belongs to a constant only: “define('ALBAR_PASSWORD', …)”.
    isWanted: (match, value) => (match[2] !== ',' || match[1] === match[1]?.toUpperCase()) && isValueOf(beforeValue(match), value),
  },
  {
    pattern: ON_A_LINE,
    isWanted: (match, value) => !isMember(value) && isValueOf(beforeValue(match), value) && BEFORE_VALUE.test(beforeValue(match)),
  },
  { pattern: OF_A_MACHINE, isWanted: (_, value) => looksMade(value) },
  { pattern: SENT, isWanted: (_, value) => looksMade(value) },
];

/** No name is longer, and lines of code can be endless. */
const LONGEST_NAME = 240;

/** The text up to where the name of the value ends. */
function beforeValue({ 1: end = '', index, input }: RegExpExecArray): string {
  const start = Math.max(0, index - LONGEST_NAME);
  // A mark that begins no line.
  return `${start === 0 ? '' : '…'}${input.slice(start, index + end.length)}`;
}

/** Passwords are short; what else is shorter than this is the name of a setting. */
const SHORTEST_KEY = 12;

function isValueOf(before: string, value: string): boolean {
  if (!(NAME.test(before) || CONSTANT.test(before)) || !looksMade(value)) return false;
  return /pass\w+$/i.test(before) ? !/passw/i.test(value) : value.length >= SHORTEST_KEY;
}

/** Words that are put together are names of settings, and what repeats one sign is a placeholder. */
function looksMade(value: string): boolean {
  return /\d/.test(value) && /[a-z]/i.test(value) && !/^(.)\1+$/.test(value) && !isPlaceholder(value);
}

function isPlaceholder(value: string): boolean {
  return /example|placeholder|your|change|dummy|sample|insert|secret|x{4}|0{8}|\.{3}|\*{3}/i.test(value);
}

/** A value that is looked up: `settings.mail2.password`. */
function isMember(value: string): boolean {
  return /^[a-z_]\w{0,20}(?:\.[a-z_]\w{0,20})+$/i.test(value);
}
