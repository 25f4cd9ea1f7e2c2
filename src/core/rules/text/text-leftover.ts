import * as z from 'zod';
import { CONFIGURATION_FILE } from '../../configuration/configuration.ts';
import { isThirdPartyFile } from '../../contents/third-party.ts';
import { findZones, zoneAt } from '../../text/zones.ts';
import { advices } from '../advice.ts';
import { defineRule } from '../rule.ts';
import { kindOfPath } from '../../text/file-kinds.ts';

const LEFTOVER = /\b(?:TODO|FIXME|XXX)\s*:\s*(?:replace|change|rename|remove|delete|fill|write)\b[^\n]{0,60}|\blorem ipsum\b/gi;

const advise = advices({
  'write-own': 'write what the theme has to say',
});

/** Texts that should have been replaced before anyone sees them. */
export const textLeftover = defineRule({
  meta: {
    id: 'text/leftover',
    severity: 'warning',
    isSeen: true,
    isNameBlind: true,
    summary: 'Sample text or a note to oneself was left in',
    why: 'Visitors read it, or a reviewer does.',
    get options() {
      return {
        'sample-texts': z
          .array(z.string().min(1))
          .default([])
          .describe('Texts that a kit starts a theme with: what is left of them is a finding'),
      };
    },
    messages: { left: '“{text}” was left in', sample: '“{text}” is sample text of the kit' },
    example: {
      platform: 'vereda',
      wrong: { 'main.html': '<main>Lorem ipsum dolor</main>\n' },
      right: { 'main.html': '<main>{{{page.content}}}</main>\n' },
    },
  },
  *checkText(source, { theme, options }) {
    const path = source.file;
    if (path === CONFIGURATION_FILE) return;
    for (const text of options['sample-texts']) {
      const start = source.text.indexOf(text);
      const range = { start, end: start + text.length };
      if (start >= 0) yield { message: 'sample', args: { text }, file: path, source, range, hint: advise('write-own') };
    }
    // A description may well speak of what is still to be done.
    if ((kindOfPath(path) === 'prose' && !path.endsWith('.txt')) || source.text.search(LEFTOVER) < 0) return;
    if (isThirdPartyFile(theme, path)) return;
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
        hint: advise('replace-or-take-out'),
      };
    }
  },
});
