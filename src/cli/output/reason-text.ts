import { JUDGES } from '../../core/rename/judges.ts';
import { OTHER_REASONS, type KeptGroup, type Reason, type ReasonCode } from '../../core/rename/reason.ts';

/** Why a place stays, for people; {about} is the name, word or wish that it is about. */
function sentenceOf(code: ReasonCode): string {
  const others: Readonly<Record<string, string>> = OTHER_REASONS;
  return others[code] ?? JUDGES.find((each) => each.code === code)?.sentence ?? code;
}

/** The same for several places that are about different names. */
function togetherOf(code: ReasonCode): string | undefined {
  if (code === 'case-twin') return 'differ only by case from others: some systems cannot hold both';
  return JUDGES.find((each) => each.code === code)?.together;
}

/** Groups of several reasons. */
const GROUPS: Partial<Readonly<Record<KeptGroup, string>>> = { theirs: 'packages, accounts, paths and names of others' };

export function reasonText({ code, about = '' }: Reason): string {
  return sentenceOf(code).replace('{about}', () => about);
}

/** Why several places of one group stay: what they are about is left out where it differs. */
export function reasonsText(reasons: readonly Reason[]): string {
  const [first] = reasons;
  if (first === undefined) return '';
  const isSame = (key: (reason: Reason) => string | undefined): boolean => reasons.every((each) => key(each) === key(first));
  if (!isSame(({ code }) => code)) return (first.group === undefined ? undefined : GROUPS[first.group]) ?? reasonText(first);
  return isSame(({ about }) => about) ? reasonText(first) : (togetherOf(first.code) ?? reasonText(first));
}

/** What places are listed under: their group, or the reason itself. */
export function headOf({ code, group }: Reason): ReasonCode | KeptGroup {
  return group ?? code;
}
