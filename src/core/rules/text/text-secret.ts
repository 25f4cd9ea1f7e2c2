import { endingOf } from '../../text/file-kinds.ts';
import { findSecrets } from './secrets.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Files in which programs keep keys, which are not text. */
const KEY_STORE = /\.(?:jks|kdbx|keystore|p12|pfx)$/i;

const advise = advices({
  'owner-enters': 'have the site’s owner enter it, and make a new one',
  'remove-secret': 'remove it, and make a new one: this one is known',
});

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
  *check({ theme }) {
    for (const { path, kind } of theme.tree.entries)
      if (kind === 'file' && KEY_STORE.test(path)) yield { file: path, message: 'key', hint: advise('remove-secret') };
  },
  *checkText(source) {
    const { kind, language } = endingOf(source.file);
    const isCode = language !== 'shell' && (kind === 'script' || kind === 'code' || kind === 'stylesheet' || kind === 'markup');
    for (const { kind: what, start, end } of findSecrets(source.text, isCode)) {
      const at = { file: source.file, source, range: { start, end } };
      // As much of it as is needed to find it again, and no more: reports go round.
      const args = { value: `${source.text.slice(start, start + 4)}…` };
      yield what === 'key'
        ? { ...at, message: 'key', hint: advise('remove-secret') }
        : { ...at, message: 'credential', args, hint: advise('owner-enters') };
    }
  },
};
