import { escapeMarkup } from './escape-markup.ts';

/** A whole page around a body. @param policy what it may load (Content Security Policy Level 3); as browsers have it when left out */
export function pageShell(title: string, style: string, body: string, policy?: string): string {
  const limit = policy === undefined ? '' : `<meta http-equiv="Content-Security-Policy" content="${escapeMarkup(policy)}">\n`;
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
${limit}<title>${escapeMarkup(title)}</title>
<style>${style}</style>
</head>
<body>
${body}
</body>
</html>
`;
}
