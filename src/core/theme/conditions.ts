import type { FactCondition, NeedCondition } from '../platform/schema.ts';
import type { Fact, ThemeDocument } from './documents.ts';

type Named = Pick<Fact, 'name' | 'value'>;

/** Whether a theme states a fact with one of the values that a condition asks for. */
export function isMet({ fact, is }: FactCondition, facts: readonly Named[]): boolean {
  return facts.some(({ name, value }) => {
    if (name !== fact || value === undefined) return false;
    const said = typeof value === 'string' ? [value] : Array.isArray(value) ? (value as readonly string[]) : Object.keys(value);
    return is.includes('*') ? said.some((each) => each !== '') : said.some((each) => is.includes(each));
  });
}

interface Conditional {
  readonly required: NeedCondition;
  readonly 'required-when'?: FactCondition | undefined;
}

/** When an entry is needed, its condition decided. */
export function needOf({ required, 'required-when': condition }: Conditional, facts: readonly Named[]): NeedCondition {
  return condition === undefined ? required : isMet(condition, facts) ? 'always' : required;
}

/** The documents with what other facts decide decided; the same ones where none does. */
export function withConditionsMet(documents: readonly ThemeDocument[], facts: readonly Named[]): readonly ThemeDocument[] {
  const isConditional = ({ contract }: ThemeDocument): boolean =>
    contract['required-when'] !== undefined || contract.fields.some((field) => field['required-when'] !== undefined);
  if (!documents.some(isConditional)) return documents;
  return documents.map((document) => {
    if (!isConditional(document)) return document;
    const { contract } = document;
    const fields = contract.fields.map((field) => ({ ...field, required: needOf(field, facts) }));
    return { ...document, contract: { ...contract, required: needOf(contract, facts), fields } };
  });
}
