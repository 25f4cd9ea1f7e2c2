import parseExpression from 'spdx-expression-parse';
import currentIds from 'spdx-license-ids/index.json' with { type: 'json' };

const current = new Set(currentIds);

/** Whether a text is an SPDX license expression, after annex D of the SPDX specification 2.3. */
export function isLicenseExpression(text: string): boolean {
  // Nearly all expressions are one id, and the parser tries all that it knows.
  if (current.has(text)) return true;
  try {
    parseExpression(text);
    return true;
  } catch {
    return false;
  }
}

/** The ids in an SPDX license expression; none when it is not one. `LicenseRef-` ids are not among them. */
export function licenseIds(expression: string): readonly string[] {
  if (current.has(expression)) return [expression];
  if (expression === '') return [];
  try {
    return idsIn(parseExpression(expression));
  } catch {
    return [];
  }
}

type Expression = ReturnType<typeof parseExpression>;

function idsIn(expression: Expression): string[] {
  if ('license' in expression) return expression.license.startsWith('LicenseRef-') ? [] : [expression.license];
  return 'left' in expression ? [...idsIn(expression.left), ...idsIn(expression.right)] : [];
}
