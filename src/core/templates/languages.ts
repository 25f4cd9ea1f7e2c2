import { matchesAny } from '../files/glob.ts';
import type { TemplateContract } from '../platform/schema.ts';
import { KNOWN_LANGUAGES } from '../platform/known-languages.ts';
import { describedLanguage } from './described.ts';
import { mustache } from './mustache.ts';
import type { TemplateLanguage } from './template.ts';

/** Languages that have a reader of their own. A new one is entered here, and in the schema's list of names. */
const LANGUAGES: Readonly<Record<string, TemplateLanguage>> = { mustache };

/** The names of the languages that need no description. */
export const TEMPLATE_LANGUAGES = [...Object.keys(LANGUAGES), ...Object.keys(KNOWN_LANGUAGES)];

const described = new WeakMap<object, TemplateLanguage>();

/** How the language of a template is described, or called: that of its platform, or the one that its files are written in. */
export function languageAt({ language, languages }: TemplateContract, path: string): TemplateContract['language'] {
  return languages.find(({ files }) => matchesAny(path, files))?.language ?? language;
}

/** The language of a platform's templates, or of one of them. */
export function languageOf(contract: TemplateContract, path?: string): TemplateLanguage {
  const language = path === undefined ? contract.language : languageAt(contract, path);
  if (typeof language === 'string') {
    const own = LANGUAGES[language];
    // In a platform file that was read, a description stands in place of any other name.
    if (own === undefined) throw new TypeError(`nothing reads templates in ${language}`);
    return own;
  }
  const known = described.get(language) ?? describedLanguage(language);
  described.set(language, known);
  return known;
}
