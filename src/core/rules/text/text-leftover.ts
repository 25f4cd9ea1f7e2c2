import { findZones, zoneAt } from '../../text/zones.ts';
import type { Rule } from '../rule.ts';

const LEFTOVER =
  /\b(?:TODO|FIXME|XXX)\s*:\s*(?:replace|change|rename|remove|delete|fill|write)\b[^\n]{0,60}|\blorem ipsum\b|<<<<<<< |>>>>>>> /gi;

/** What was to be replaced before anybody sees it. */
export const textLeftover: Rule = {
  meta: {
    id: 'text/leftover',
    severity: 'warning',
    isNameBlind: true,
    summary: 'Sample text or a note to oneself was left in',
    why: 'Visitors read it, or a reviewer does.',
    messages: { left: '“{text}” was left in' },
    example: {
      platform: 'vereda',
      wrong: { 'main.html': '<main>Lorem ipsum dolor</main>\n' },
      right: { 'main.html': '<main>{{{page.content}}}</main>\n' },
    },
  },
  *check({ theme }) {
    for (const { path, kind } of theme.tree.entries) {
      const source = kind === 'file' && !/\.(?:md|rst)$/i.test(path) ? theme.source(path) : undefined;
      if (source === undefined || source.text.search(LEFTOVER) < 0) continue;
      const zones = findZones(path, source.text);
      for (const match of source.text.matchAll(LEFTOVER)) {
        // In a string of code it may be what the code looks for.
        if (zoneAt(zones, match.index) === 'string') continue;
        const text = match[0].trim();
        yield {
          message: 'left',
          args: { text },
          file: path,
          source,
          range: { start: match.index, end: match.index + text.length },
          hint: 'replace it, or take it out',
        };
      }
    }
  },
};
