import { filledLicense, licenseDifferences } from '../core/contents/license-file.ts';
import { licenseFiles } from '../core/contents/third-party.ts';
import { setFacts, type FactChange } from '../core/facts/set-facts.ts';
import { count, plural } from '../core/text/sentence.ts';
import type { OpenedTheme } from '../core/theme/open.ts';
import type { ChangeOptions, Context } from './command.ts';
import { promptsFor } from './prompts.ts';

/** Whether license files are to follow the license that is set; and what to say in the end where they do not. */
export interface LicenseOffer {
  readonly isTaken: boolean;
  readonly note?: string | undefined;
}

/** Holds the license files of themes against a license that is set, and offers its text. */
export async function offerLicenseText(
  context: Context,
  { licenseText: isAsked, yes, dryRun }: ChangeOptions & { readonly licenseText: boolean },
  opened: readonly OpenedTheme[],
  changes: readonly FactChange[],
): Promise<LicenseOffer> {
  if (isAsked || changes.every(({ fact }) => fact !== 'license')) return { isTaken: isAsked };
  const lacking = opened.flatMap(({ theme }) => {
    const changed = setFacts(theme, changes);
    const [difference] = licenseDifferences(changed);
    const isSame = changed.text('license') === theme.text('license');
    if (isSame || (difference === undefined && licenseFiles(changed.tree).length > 0)) return [];
    const has = difference === undefined ? 'has no license file' : `has ${difference.file} with ${difference.found ?? 'another text'}`;
    return [{ changed, told: `${theme.names.id} ${has}` }];
  });
  const [first, ...others] = lacking;
  if (first === undefined) return { isTaken: false };
  const { paint, io } = context;
  const license = first.changed.text('license') ?? '';
  const more = `${count(others.length, 'more theme')} ${plural(others.length, 'lacks', 'lack')} the text of ${license}`;
  const told = others.length === 0 ? first.told : `${first.told}, and ${more}`;
  if (filledLicense(first.changed, yearOf(context)) === undefined)
    return { isTaken: false, note: `${paint.warn('▲')} ${told}; the text of ${license} is not at hand: put it in yourself.` };
  if (io.isInteractive && !yes && !dryRun && !context.isMachine)
    return { isTaken: (await (await promptsFor(io)).confirm(`${told}. Write the text of ${license}?`)) ?? false };
  return { isTaken: false, note: `${paint.warn('▲')} ${told}: --license-text writes the text of ${license}.` };
}

export function yearOf({ io }: Context): number {
  return new Date(io.now()).getUTCFullYear();
}
