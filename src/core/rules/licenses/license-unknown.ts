import { choosePackageContents } from '../../contents/package-contents.ts';
import { thirdPartyIn } from '../../contents/third-party.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'tell-license': 'put its license beside it, or a line “SPDX-License-Identifier: …” at its head',
});

/** Someone else's files, without a word of what may be done with them. Looked at only for a submission. */
export const licenseUnknown: Rule = {
  meta: {
    id: 'license/unknown',
    severity: 'warning',
    isOfOneFile: true,
    summary: 'Files of others say nothing of their license',
    why: 'Nobody may pass on what nobody has allowed; directories ask for the license of every part.',
    messages: { unknown: '{name} was made by others, and its license is unknown' },
    example: { none: 'it is looked at only for a submission' },
  },
  *check({ theme, purpose, excluded }) {
    if (purpose !== 'submission') return;
    for (const { name, license, files } of thirdPartyIn(theme, choosePackageContents(theme, excluded).entries)) {
      if (license === undefined) yield { message: 'unknown', args: { name }, file: files[0] ?? '', hint: advise('tell-license') };
    }
  },
};
