import parseExpression from 'spdx-expression-parse';

/** The ids in an SPDX license expression; none when it is not one. `LicenseRef-` ids are not among them. */
export function licenseIds(expression: string): readonly string[] {
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
