import type { Wildcard } from '../../text/wildcard.ts';
import type { Mention } from '../mention.ts';
import { keeps, type Judge } from './judge.ts';

export const host: Judge = keeps(
  {
    code: 'host',
    group: 'host',
    sentence: 'a name that the host owns',
    examples: [{ file: 'a.css', text: '.«course»-list { }', names: 'course → lumbre', with: { platform: 'estrato' } }],
  },
  (mention) => {
    const { hostNames, hostPaths, usedNames } = mention.matching;
    // The host asks for it by such a name, and the theme says what it is.
    if (usedNames.has(mention.identifier) || mention.isAskedFor) return false;
    return isAmong(hostNames, mention.identifier, mention) || (hostPaths.length > 0 && isAmong(hostPaths, dotted(mention), mention));
  },
);

function isAmong(owned: readonly Wildcard[], name: string, { language }: Mention): boolean {
  // Functions and classes of PHP are the same in any case; names in stylesheets and scripts are not.
  const isCaseless = language === 'php';
  return owned.some((each) => (isCaseless ? each.withoutCase().matches(name.toLowerCase()) : each.matches(name)));
}

/** The names around a place with points between them: `host.styles.AlbarStyle`. */
function dotted(mention: Mention): string {
  return mention.stretch(/[\w.-]/).text.replace(/^\.+|\.+$/g, '');
}
