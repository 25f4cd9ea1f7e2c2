import * as z from 'zod';
import type { Rule } from '../rule.ts';

const RuleFunction = z.custom<NonNullable<Rule['check']>>((value) => typeof value === 'function', 'a function is expected').optional();
const RuleShape = z
  .looseObject({
    meta: z.looseObject({
      id: z.string().regex(/^[a-z][a-z0-9-]*\/[a-z][a-z0-9-]*$/, 'an id is written like family/name'),
      severity: z.enum(['error', 'warning', 'note']),
      summary: z.string(),
      why: z.string(),
      messages: z.record(z.string(), z.string()),
      example: z.unknown(),
    }),
    check: RuleFunction,
    checkText: RuleFunction,
    checkFile: RuleFunction,
  })
  .refine(
    ({ check, checkText, checkFile }) => [check, checkText, checkFile].some((each) => each !== undefined),
    'a function “check”, “checkText” or “checkFile” is expected',
  );

/** The rules that a module gives, which may be JavaScript and have no types. */
export const RulesSchema = z.array(RuleShape);
