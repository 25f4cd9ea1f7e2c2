import type { Rule } from '../src/core/rules/rule.ts';

/** The page of everything that Pionero can say, in Markdown. @param folder the sources */
export function messagesPage(rules: readonly Pick<Rule, 'meta'>[], folder: string): string;
