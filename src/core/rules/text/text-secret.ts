import { holdsAny } from '../../text/comment-lines.ts';
import { advise } from '../advice.ts';
import type { Rule } from '../rule.ts';

const KEY = /-----BEGIN (?:[A-Z]+ )*PRIVATE KEY-----/;
const CREDENTIAL =
  /\b(?:api[_-]?key|secret(?:[_-]?key)?|access[_-]?token|auth[_-]?token|password|passwd)\b["']?\s*(?:[:=]|=>)\s*["']([A-Za-z0-9+/_=.-]{12,})["']/gi;

/** One of them stands in every credential. */
const WORDS = ['key', 'secret', 'token', 'passw'];

/** Private keys and credentials. */
export const textSecret: Rule = {
  meta: {
    id: 'text/secret',
    severity: 'error',
    isNameBlind: true,
    summary: 'A file holds a private key or a credential',
    why: 'A theme is read by everybody who installs it, and stays in archives for ever.',
    messages: { key: 'a private key lies in the theme', credential: 'this looks like a credential: “{value}”' },
    example: {
      platform: 'vereda',
      wrong: {
        'scripts/a.js': "const apiKey = 'a8f3c1e9b7d24f60';\nload(apiKey);\n",
        'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\n---*/\n/* scripts/a.js */\n',
      },
      right: {
        'scripts/a.js': 'load(window.cierzo.apiKey);\n',
        'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\n---*/\n/* scripts/a.js */\n',
      },
    },
  },
  *checkText(source) {
    const at = { file: source.file, source };
    const key = KEY.exec(source.text);
    if (key !== null)
      yield {
        ...at,
        message: 'key',
        range: { start: key.index, end: key.index + key[0].length },
        hint: advise('remove-secret'),
      };
    for (const match of holdsAny(source.text, WORDS) ? source.text.matchAll(CREDENTIAL) : []) {
      const value = match[1] ?? '';
      // Words that are put together are names of settings, and what repeats one sign is a placeholder.
      if (!/\d/.test(value) || !/[a-z]/i.test(value) || /^(.)\1+$/.test(value)) continue;
      const start = match.index + match[0].lastIndexOf(value);
      const shown = `${value.slice(0, 4)}…`;
      yield {
        ...at,
        message: 'credential',
        args: { value: shown },
        range: { start, end: start + value.length },
        hint: advise('owner-enters'),
      };
    }
  },
};
