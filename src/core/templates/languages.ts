import type { TemplateContract } from '../platform/schema.ts';
import { describedLanguage } from './described.ts';
import { mustache } from './mustache.ts';
import type { TemplateLanguage } from './template.ts';

/** Every language that templates are read in. A new one is entered here, and in the schema's list of names. */
const LANGUAGES: Readonly<Record<Extract<TemplateContract['language'], string>, TemplateLanguage>> = { mustache };

/** The names of the languages that need no description. */
export const TEMPLATE_LANGUAGES = Object.keys(LANGUAGES);

const described = new WeakMap<object, TemplateLanguage>();

/** The language of a platform's templates. */
export function languageOf({ language }: TemplateContract): TemplateLanguage {
  if (typeof language === 'string') return LANGUAGES[language];
  const known = described.get(language) ?? describedLanguage(language);
  described.set(language, known);
  return known;
}
