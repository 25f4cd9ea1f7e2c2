import type { TextEdit } from '../text/edits.ts';
import { hasHyphens, languageNamed, type LanguageName } from '../text/languages.ts';
import { isInterpolated, zoneOf } from '../text/zones.ts';
import type { Zone } from '../text/zone.ts';
import { NameFinder, type Occurrence } from './name-finder.ts';
import { spell, splitWords, type Spelling } from './spelling.ts';

/**
 * Finds a name of several words in code, in a spelling that no identifier can have there: `function cumbre-sur_setup()`, `class Cumbre
 * Sur`, as a careless search and replace leaves them. Each edit writes it as the language wants it.
 * @param zones those of the text
 */
export function misspeltIn(text: string, zones: readonly Zone[], name: string): TextEdit[] {
  const words = splitWords(name);
  if (words.length < 2) return [];
  return new NameFinder(name).find(text).flatMap((found): TextEdit[] => {
    const zone = zoneOf(zones, found.start);
    const isCode = zone !== undefined && (zone.kind === 'code' || isInterpolated(text, zone, found.start));
    if (!isCode || !isForbidden(text, found, zone.language)) return [];
    return [{ start: found.start, end: found.end, text: spell(words, spellingOf(text, found, zone.language)) }];
  });
}

/** A hyphen or a blank that parts one identifier of a language whose identifiers hold neither. */
function isForbidden(text: string, { start, end, separator, text: found }: Occurrence, language: LanguageName | undefined): boolean {
  if (language === undefined || hasHyphens(language)) return false;
  if (separator !== '-' && separator !== ' ') return false;
  // With a blank on both sides, a hyphen is a minus; in small letters with a blank between them, two words may be two names.
  const isJoined = /[\w$\\]/.test(text.charAt(start - 1)) || /[\w(\\]|::/.test(text.charAt(end));
  const isDeclared = /\b(?:function|class|def|interface|trait|enum|namespace|const|let|var|new|fn|func|import|use|extends)\s+$/.test(
    text.slice(Math.max(0, start - 16), start),
  );
  return isDeclared || (isJoined && (separator === '-' || found !== found.toLowerCase()));
}

function spellingOf(text: string, { start, end, letters }: Occurrence, language: LanguageName | undefined): Spelling {
  const isSnake = text.charAt(end) === '_' || text.charAt(start - 1) === '_';
  if (letters === 'upper') return 'constant';
  if (letters === 'capitals' || letters === 'first') return isSnake ? 'capitalSnake' : 'pascal';
  if (isSnake) return 'snake';
  const isHump = /[A-Z]/.test(text.charAt(end));
  return isHump || (language !== undefined && languageNamed(language).joint === 'camel') ? 'camel' : 'snake';
}
