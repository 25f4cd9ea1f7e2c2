import { takeIn, type Match } from './match.ts';
import type { Mention } from './mention.ts';
import type { ReasonCode } from './reason.ts';
import { account } from './judges/account.ts';
import { accents } from './judges/accents.ts';
import { author } from './judges/author.ts';
import { binaryPath } from './judges/binary-path.ts';
import { calledTheme } from './judges/called-theme.ts';
import { commonName } from './judges/common-name.ts';
import { contract } from './judges/contract.ts';
import { credit } from './judges/credit.ts';
import { declaration } from './judges/declaration.ts';
import { declaredName } from './judges/declared-name.ts';
import { dependency } from './judges/dependency.ts';
import { encoding } from './judges/encoding.ts';
import { ending } from './judges/ending.ts';
import { generated } from './judges/generated.ts';
import { history } from './judges/history.ts';
import { host } from './judges/host.ts';
import { identifier } from './judges/identifier.ts';
import { importOfOthers } from './judges/import-of-others.ts';
import type { Judge, Verdict } from './judges/judge.ts';
import { language } from './judges/language.ts';
import { licence } from './judges/licence.ts';
import { link } from './judges/link.ts';
import { lock } from './judges/lock.ts';
import { longerWord } from './judges/longer-word.ts';
import { marked } from './judges/marked.ts';
import { missingFile } from './judges/missing-file.ts';
import { movedName } from './judges/moved-name.ts';
import { noSpelling } from './judges/no-spelling.ts';
import { otherTheme } from './judges/other-theme.ts';
import { otherValue } from './judges/other-value.ts';
import { outside } from './judges/outside.ts';
import { ownAddress } from './judges/own-address.ts';
import { partOfName } from './judges/part-of-name.ts';
import { person } from './judges/person.ts';
import { prose } from './judges/prose.ts';
import { proven } from './judges/proven.ts';
import { reference } from './judges/reference.ts';
import { shortName } from './judges/short-name.ts';
import { stayingFile } from './judges/staying-file.ts';
import { thirdParty } from './judges/third-party.ts';
import { titleSyntax } from './judges/title-syntax.ts';
import { title } from './judges/title.ts';
import { vendor } from './judges/vendor.ts';
import { wish } from './judges/wish.ts';

/**
 * Everything that decides on a mention, in the order in which it is asked: what stays for sure, what leads to a file, what stays
 * unless its group is taken in, what cannot be written, what proves that the theme is meant, and what is left in doubt.
 */
export const JUDGES: readonly Judge[] = [
  ...[contract, vendor, otherTheme, person, longerWord, language, stayingFile, wish],
  ...[ending, reference],
  ...[lock, licence, history, generated, thirdParty, link, credit, host],
  ...[otherValue, dependency, importOfOthers, account, outside, missingFile],
  ...[titleSyntax, noSpelling, encoding, binaryPath, accents],
  ...[declaredName, ownAddress, declaration, calledTheme, identifier, marked, author, prose, title, movedName, proven],
  ...[commonName, shortName, partOfName],
];

/** Asks the judges what becomes of a mention. */
export function judge(mention: Mention): Match {
  const { matching, start, end } = mention;
  for (const each of JUDGES) {
    if (each.group !== undefined && matching.include.has(each.group)) continue;
    const verdict = each.judge(mention);
    if (verdict !== undefined) return matchOf(mention, each, verdict);
  }
  return { start, end, kind: 'unsure', reason: { code: 'not-told' }, replacement: mention.replacement };
}

function matchOf(mention: Mention, { code, group }: Judge, verdict: Verdict): Match {
  const { start, end, matching, text } = mention;
  const { kind, about, replacement } = verdict;
  if (kind !== 'kept' && kind !== 'unsure') {
    const written = replacement ?? mention.replacement;
    if (written !== undefined && mention.file.source.encode(written) !== undefined)
      return { start, end, kind, judge: code, replacement: written };
    return {
      start,
      end,
      kind: 'unsure',
      judge: code,
      reason: { code: written === undefined ? 'no-spelling' : 'encoding' },
      replacement: undefined,
    };
  }
  const reason = verdict.reason ?? { code: code as ReasonCode, group, about };
  const hasProposal = verdict.reason === undefined && (kind === 'unsure' || group !== undefined) && code !== 'encoding';
  const proposal = hasProposal ? mention.replacement : undefined;
  const kindIfChanged = mention.edges === 'joined' || mention.zoneKind === 'code' ? ('identifier' as const) : ('text' as const);
  const match: Match = { start, end, kind, judge: code, reason, replacement: proposal, kindIfChanged };
  return kind === 'unsure' && proposal !== undefined && matching.includes(text, match) ? takeIn(match) : match;
}
