import { nearest } from '../../text/nearest.ts';
import { advices } from '../advice.ts';
import type { Report, Rule } from '../rule.ts';
import type { Acceptance } from './acceptances.ts';

const advise = advices({
  'say-why': 'say why: pionero-accept {rule}: …',
  'see-rules': 'see docs/rules.md',
});

/** Acceptances that accept nothing (any more). */
export const acceptUnused: Rule = {
  meta: {
    id: 'accept/unused',
    severity: 'warning',
    tag: 'unused',
    needsAll: true,
    isNameBlind: true,
    summary: 'An acceptance matches no finding',
    why: 'It hides the next mistake of its kind in that place, or was written for a rule that does not exist.',
    messages: {
      unused: 'nothing is found here that “{rule}” would have to accept',
      unknown: 'there is no rule “{rule}” to accept',
      reason: 'the acceptance of “{rule}” gives no reason',
    },
    example: {
      platform: 'vereda',
      wrong: { 'styles/a.css': '/* pionero-accept asset/missing: made at build time */\nbody { margin: 0 }\n' },
      right: { 'styles/a.css': '/* pionero-accept asset/missing: made at build time */\nbody { background: url(made.png) }\n' },
    },
  },
  *after({ unusedAcceptances, rules }) {
    for (const each of unusedAcceptances) yield reportUnused(each, rules);
  },
};

/** The problem with an acceptance that was not used. */
export function reportUnused(
  { rule, reason, file, source, range }: Pick<Acceptance, 'rule' | 'reason' | 'file' | 'source' | 'range'>,
  rules: readonly string[],
): Report {
  const at = { file, source, range, args: { rule } };
  if (!rules.includes(rule)) {
    const near = nearest(rule, rules);
    return { ...at, message: 'unknown', hint: near === undefined ? advise('see-rules') : advise('did-you-mean', { near }) };
  }
  if (reason === '') return { ...at, message: 'reason', hint: advise('say-why', { rule }) };
  return { ...at, message: 'unused', hint: advise('take-out') };
}
