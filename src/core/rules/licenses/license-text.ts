import { licenseDifferences } from '../../contents/license-file.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

/** Shown wrong and right. */
const EXAMPLES = {
  sheet: '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\nlicense: MIT\n---*/\n',
  isc: `ISC License:

Copyright (c) 2026 Albar Hut League
Copyright (c) 2026 Albar Hut League

Permission to use, copy, modify, and/or distribute this software for any purpose with or without fee is hereby granted, provided that the above copyright notice and this permission notice appear in all copies.

THE SOFTWARE IS PROVIDED "AS IS" AND ISC DISCLAIMS ALL WARRANTIES WITH REGARD TO THIS SOFTWARE INCLUDING ALL IMPLIED WARRANTIES OF MERCHANTABILITY AND FITNESS. IN NO EVENT SHALL ISC BE LIABLE FOR ANY SPECIAL, DIRECT, INDIRECT, OR CONSEQUENTIAL DAMAGES OR ANY DAMAGES WHATSOEVER RESULTING FROM LOSS OF USE, DATA OR PROFITS, WHETHER IN AN ACTION OF CONTRACT, NEGLIGENCE OR OTHER TORTIOUS ACTION, ARISING OUT OF OR IN CONNECTION WITH THE USE OR PERFORMANCE OF THIS SOFTWARE.
`,
  mit: `MIT License

Copyright (c) 2026 Albar Hut League

Permission is hereby granted, free of charge, to any person obtaining a copy of this software and
associated documentation files (the "Software"), to deal in the Software without restriction, including
without limitation the rights to use, copy, modify, merge, publish, distribute, sublicense, and/or sell
copies of the Software, and to permit persons to whom the Software is furnished to do so, subject to the
following conditions:

The above copyright notice and this permission notice shall be included in all copies or substantial
portions of the Software.

THE SOFTWARE IS PROVIDED "AS IS", WITHOUT WARRANTY OF ANY KIND, EXPRESS OR IMPLIED, INCLUDING BUT NOT
LIMITED TO THE WARRANTIES OF MERCHANTABILITY, FITNESS FOR A PARTICULAR PURPOSE AND NONINFRINGEMENT. IN NO
EVENT SHALL THE AUTHORS OR COPYRIGHT HOLDERS BE LIABLE FOR ANY CLAIM, DAMAGES OR OTHER LIABILITY, WHETHER
IN AN ACTION OF CONTRACT, TORT OR OTHERWISE, ARISING FROM, OUT OF OR IN CONNECTION WITH THE SOFTWARE OR THE
USE OR OTHER DEALINGS IN THE SOFTWARE.
`,
};

const advise = advices({
  'right-heading': 'name {license} in the heading, or put in the text of the other',
  'agree-license': 'name {license} in the theme, or put in the text of the other',
  'put-license-text': 'put in the text of {license}, or name the license that it is',
});

/** A license file with the text of another license than the theme names. */
export const licenseTextRule: Rule = {
  meta: {
    id: 'license/text',
    severity: 'warning',
    summary: 'The license file holds another license than the one that is named',
    why: 'Whoever takes the theme over cannot tell which of the two holds; directories send such themes back.',
    messages: {
      other: 'this is the text of {found}, and the theme says {license}',
      note: 'this names {found}, and the theme says {license}',
      heading: 'the heading says {license}, and the text is that of {found}',
      unknown: 'this is not the text of {license}, which the theme says',
    },
    example: {
      platform: 'vereda',
      wrong: { 'sheet.css': EXAMPLES.sheet, 'LICENSE.txt': EXAMPLES.isc },
      right: { 'sheet.css': EXAMPLES.sheet, 'LICENSE.txt': EXAMPLES.mit },
    },
  },
  *check({ theme }) {
    for (const { file, kind, found, said } of licenseDifferences(theme)) {
      const source = theme.source(file);
      const range = { start: 0, end: (/^.*/.exec(source?.text ?? '')?.[0] ?? '').length };
      const hint =
        kind === 'heading'
          ? advise('right-heading', { license: found ?? '' })
          : advise(found === undefined ? 'put-license-text' : 'agree-license', { license: found ?? said });
      yield { message: kind, args: { found, license: said }, file, source, range, hint };
    }
  },
};
