import { withFile } from '../files/changed-tree.ts';
import { licenseIds } from '../licenses/license-ids.ts';
import { licenseText } from '../licenses/license-texts.ts';
import { isTextOf, recogniseLicense } from '../licenses/recognise-license.ts';
import { statedLicense } from '../licenses/stated-license.ts';
import { Theme } from '../theme/theme.ts';
import { licenseFiles } from './third-party.ts';

/** The shortest licenses have so many characters. */
const SHORTEST = 400;

/** In what way a license file is not what its theme says. */
export interface LicenseDifference {
  readonly file: string;
  /** The theme names one license, and the text is another one (the id of which is not always known); or the text’s own heading names another. */
  readonly kind: 'other' | 'unknown' | 'note' | 'heading';
  /** The license that the text is. */
  readonly found: string | undefined;
  /** The license that the theme, or the heading, names. */
  readonly said: string;
}

/** Compares the license files of a theme with the license that it names, and with what stands above their texts. */
export function licenseDifferences(theme: Theme): LicenseDifference[] {
  const license = statedBy(theme);
  const ids = licenseIds(license).filter((id) => licenseText(id) !== undefined);
  const isKnown = ids.length > 0 && ids.length === licenseIds(license).length && !license.includes('LicenseRef-');
  return licenseFiles(theme.tree).flatMap((file): LicenseDifference[] => {
    const text = theme.source(file)?.text;
    if (text === undefined) return [];
    if (text.trim().length < SHORTEST) return isKnown ? noteDifference(file, text, license) : [];
    const heading = headingOf(text);
    const isOwn = !isKnown || ids.some((id) => isTextOf(text, id) === true);
    const isHeadedOther = heading !== undefined && isTextOf(text, heading) === false;
    if (isOwn && !isHeadedOther) return [];
    const found = recogniseLicense(text);
    if (!isOwn) return [{ file, kind: found === undefined ? 'unknown' : 'other', found, said: license }];
    return found === undefined || heading === undefined ? [] : [{ file, kind: 'heading', found, said: heading }];
  });
}

/** The license that a theme names; '' for none. */
function statedBy(theme: Theme): string {
  const fact = theme.facts.find(({ field }) => field.type === 'license');
  return typeof fact?.value === 'string' ? fact.value : '';
}

/** A few words that only name a license. */
function noteDifference(file: string, text: string, license: string): LicenseDifference[] {
  const named = statedLicense(text);
  const own = new Set(licenseIds(license).map(familyOf));
  const isOther = named !== undefined && licenseIds(named).every((id) => !own.has(familyOf(id)));
  return isOther ? [{ file, kind: 'note', found: named, said: license }] : [];
}

/** The lines above the text in which people write the name of a license. */
const HEADING_LINES = 3;
const LONGEST_HEADING = 60;

function headingOf(text: string): string | undefined {
  const lines = text.split('\n').map((line) => line.trim());
  const first = lines.filter((line) => line !== '').slice(0, HEADING_LINES);
  for (const line of first) {
    const [id, ...others] = licenseIds((line.length > LONGEST_HEADING ? undefined : statedLicense(`License: ${line}`)) ?? '');
    if (id !== undefined && others.length === 0 && licenseText(id) !== undefined) return id;
  }
  return undefined;
}

/** The same license said twice, once with “or later”, is one. */
function familyOf(id: string): string {
  return id.replace(/-(?:only|or-later)$/, '');
}

/** These are about the text of the license itself: nobody puts a name of his own there. */
const VERBATIM = /permitted to copy and distribute\s+verbatim|this license is copyright/i;
const YEAR = /<year>|\[y(?:ear|yyy)\]|\bYEAR\b/g;
const HOLDER = /<(?:copyright holders?|owner)>|\[(?:copyright holders|name of copyright (?:holder|owner))\]|\bAUTHOR EMAIL\b/gi;

/**
 * The text of the license that a theme names, with its author and the year; undefined where it names no license, several, or an unknown one, and when
 * the text at hand names a holder of its own.
 */
export function filledLicense(theme: Theme, year: number): string | undefined {
  const license = theme.text('license') ?? '';
  const [id, ...others] = licenseIds(license);
  const text = id === undefined || others.length > 0 ? undefined : licenseText(id);
  if (text === undefined) return undefined;
  const ended = text.replace(/\n*$/, '\n');
  if (VERBATIM.test(text)) return ended;
  const holder = theme.text('author') ?? theme.names.title ?? theme.names.id;
  const filled = ended.replaceAll(new RegExp(YEAR, 'gi'), () => String(year)).replaceAll(HOLDER, () => holder);
  const notices = filled.match(/^.*\bcopyright (?:\(c\)|[<[\d]).*$/gim) ?? [];
  return notices.every((notice) => notice.includes(holder)) ? filled : undefined;
}

/** A theme whose license file holds the text of the license that it names; undefined when that text is not at hand. */
export function withLicenseText(theme: Theme, year: number): Theme | undefined {
  const text = filledLicense(theme, year);
  if (text === undefined) return undefined;
  const file = licenseDifferences(theme).find((each) => !each.file.includes('/'))?.file ?? 'LICENSE.txt';
  return new Theme(theme.platform, withFile(theme.tree, file, Buffer.from(text)), theme.names, theme.location);
}
