import type { Fact } from '../theme/documents.ts';
import type { Theme } from '../theme/theme.ts';
import type { MessageArguments, RelatedPlace } from './rule.ts';

/** Where a fact of the checked theme is stated. */
export function placeOfFact({ document, node }: Fact): Pick<RelatedPlace, 'file' | 'source' | 'range'> {
  return { file: document.path, source: document.source, range: node };
}

/** The place at which another theme states a fact, as what a report is about, too; none where it does not state it. */
export function relatedFact(theme: Theme, fact: Fact | undefined, message: string, args: MessageArguments): RelatedPlace[] {
  return fact === undefined ? [] : [{ message, args, theme, ...placeOfFact(fact) }];
}
