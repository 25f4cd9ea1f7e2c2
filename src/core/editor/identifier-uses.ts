import { isTemplate } from '../contents/templates.ts';
import { findDeclarations } from '../contents/identifiers.ts';
import type { TextRange } from '../text/edits.ts';
import { escapePattern } from '../text/pattern.ts';
import type { Zone } from '../text/zone.ts';
import { findClassBodies, findZones, zoneOf } from '../text/zones.ts';
import type { Theme } from '../theme/theme.ts';

/**
 * Every place in the code of a theme that names what it declares in the space that themes share: the declaration, calls, and strings that
 * hold nothing but the name, all in the language of the declaration. Members of classes, properties, keys and variables that are called
 * the same are others.
 */
export function usesOfIdentifier(theme: Theme, name: string): (TextRange & { readonly path: string })[] {
  const declared = [...findDeclarations(theme)].filter((each) => each.name === name);
  const languages = new Set(declared.map(({ file, source, start }) => zoneOf(findZones(file, source.text), start)?.language));
  const word = new RegExp(`(?<![\\w$-])${escapePattern(name)}(?![\\w-])`, 'g');
  return theme.tree.entries.flatMap(({ path, kind }) => {
    const text = kind === 'file' ? theme.source(path)?.text : undefined;
    if (text === undefined || !text.includes(name)) return [];
    const zones = findZones(path, text, isTemplate(theme, path));
    const classes = findClassBodies(text, zones);
    return [...text.matchAll(word)].flatMap(({ index: start }) => {
      const end = start + name.length;
      const zone = zoneOf(zones, start);
      if (zone === undefined || !languages.has(zone.language)) return [];
      const isInClass = classes.some((body) => body.start <= start && start < body.end);
      return isUse(text, { start, end }, zone, isInClass) ? [{ path, start, end }] : [];
    });
  });
}

function isUse(text: string, { start, end }: TextRange, zone: Zone, isInClass: boolean): boolean {
  if (zone.kind === 'string') {
    const isWhole = text.slice(zone.start, zone.end).replace(/^["'`]|["'`]$/g, '').length === end - start;
    const after = text.slice(zone.end, zone.end + NEAR);
    const isKey =
      /^\s*(?:=>|:)/.test(after) || (/\[\s*$/.test(text.slice(Math.max(0, zone.start - NEAR), zone.start)) && /^\s*\]/.test(after));
    return isWhole && !isKey;
  }
  const before = text.slice(Math.max(0, start - NEAR), start);
  const isMember = /(?:->|::|\.)\s*$/.test(before) || (isInClass && /\bfunction\s+&?$/.test(before));
  const isKey = /[{,]\s*$/.test(before) && /^\s*:(?!:)/.test(text.slice(end, end + NEAR));
  return zone.kind === 'code' && !isMember && !isKey;
}

/** So many characters around a name tell what it is. */
const NEAR = 40;
