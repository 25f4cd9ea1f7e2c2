import { UsageError } from '../../errors.ts';
import { nearest } from '../../text/nearest.ts';
import { didYouMean } from '../../text/sentence.ts';
import type { Rule } from '../rule.ts';

/** The rule of an id. @throws UsageError when there is none, with the one that was likely meant */
export function ruleNamed(rules: readonly Rule[], id: string): Rule {
  const rule = rules.find(({ meta }) => meta.id === id);
  if (rule !== undefined) return rule;
  const near = nearest(id, rules.map(({ meta }) => meta.id).sort());
  throw new UsageError({ what: `there is no rule “${id}”`, hint: didYouMean(near, '“pionero explain” lists them all') });
}
