import { problemOfCode } from '../../documents/code-problems.ts';
import { findSyntax } from '../../documents/syntaxes.ts';
import type { SyntaxProblem } from '../../documents/syntax.ts';
import { isThirdParty } from '../../text/file-kinds.ts';
import type { Theme } from '../../theme/theme.ts';
import { isTemplate, kindOfFile } from '../../contents/templates.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'copy-again-or-close': 'copy it again from where it is whole, or close what is open',
  'correct-there': 'correct it there, or a little before',
});

/** Code, scripts, stylesheets and data that their languages do not allow. */
export const codeSyntax: Rule = {
  meta: {
    id: 'code/syntax',
    severity: 'error',
    isNameBlind: true,
    isSeen: true,
    summary: 'A file breaks the rules of its language',
    why: 'The host stops at code that it cannot read, and with it the site; a browser does without the script, the picture, or the rest of the stylesheet.',
    messages: { broken: '{path} cannot be read: {problem}', off: '{path} breaks off: {problem}' },
    example: {
      platform: 'vereda',
      wrong: { 'hooks.php': '<?php\nfunction cierzo_setup() {\n  return 1\n}\n' },
      right: { 'hooks.php': '<?php\nfunction cierzo_setup() {\n  return 1;\n}\n' },
    },
  },
  *checkText(source, { theme, once }) {
    const path = source.file;
    // Templates, and files that the platform reads fields from, have their own rules.
    if (once(wholeDocuments).has(path) || isTemplate(theme, path)) return;
    // Of others' code only what is cut off counts, and a cut hardly ever falls where as much is closed as was opened.
    if (isThirdParty(path) && isBalanced(source.text)) return;
    const problem = problemOfCode(path, source.text);
    if (problem === undefined) return;
    const isOff = isAtEnd(problem, source.text);
    if (isThirdParty(path) && !isOff) return;
    yield {
      message: isOff ? 'off' : 'broken',
      args: { path, problem: problem.message },
      file: path,
      source,
      range: problem,
      severity: ['code', 'script', 'stylesheet'].includes(kindOfFile(theme, path)) ? 'error' : 'warning',
      hint: advise(isOff ? 'copy-again-or-close' : 'correct-there'),
    };
  },
};

function wholeDocuments(theme: Theme): ReadonlySet<string> {
  return new Set(theme.documents.flatMap(({ path, contract }) => (findSyntax(contract.syntax)?.isPart === true ? [] : [path])));
}

/** Whether as many brackets close as open; counting them is much quicker than reading the code. */
function isBalanced(text: string): boolean {
  let depth = 0;
  for (let i = 0; i < text.length; i++) {
    const sign = text.charCodeAt(i);
    if (sign === 40 || sign === 91 || sign === 123) depth++;
    else if (sign === 41 || sign === 93 || sign === 125) depth--;
  }
  return depth === 0;
}

/** Whether the language found no end: what is wrong stands at the end of the text, or is open up to there. */
function isAtEnd({ start, message }: SyntaxProblem, text: string): boolean {
  return start >= text.trimEnd().length || /is not closed|end of file|unterminated|unexpected end/i.test(message);
}
