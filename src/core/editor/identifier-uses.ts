import { isTemplate } from '../contents/templates.ts';
import type { TextRange } from '../text/edits.ts';
import { escapePattern } from '../text/pattern.ts';
import { findClassBodies, findZones, zoneOf } from '../text/zones.ts';
import type { Theme } from '../theme/theme.ts';

/**
 * Every place in the code of a theme that names what it declares in the space that themes share: the declaration, calls, and strings that
 * hold nothing but the name. Members of classes, properties and variables that are called the same are others.
 */
export function usesOfIdentifier(theme: Theme, name: string): (TextRange & { readonly path: string })[] {
  const word = new RegExp(`(?<![\\w$-])${escapePattern(name)}(?![\\w-])`, 'g');
  return theme.tree.entries.flatMap(({ path, kind }) => {
    const text = kind === 'file' ? theme.source(path)?.text : undefined;
    if (text === undefined || !text.includes(name)) return [];
    const zones = findZones(path, text, isTemplate(theme, path));
    const classes = findClassBodies(text, zones);
    return [...text.matchAll(word)].flatMap(({ index: start }) => {
      const end = start + name.length;
      const zone = zoneOf(zones, start);
      const before = text.slice(Math.max(0, start - 40), start);
      const isWholeString = zone?.kind === 'string' && text.slice(zone.start, zone.end).replace(/^["'`]|["'`]$/g, '') === name;
      const isMember =
        /(?:->|::|\.)\s*$/.test(before) ||
        (/\bfunction\s+&?$/.test(before) && classes.some((body) => body.start <= start && start < body.end));
      return isWholeString || (zone?.kind === 'code' && !isMember) ? [{ path, start, end }] : [];
    });
  });
}
