import { JUDGES } from './judges.ts';
import type { Example, Judge } from './judges/judge.ts';

/** The page of all judges in Markdown, made from the judges. */
export function judgesPage(): string {
  const head = `# Judges

This page is for you if a rename changed or kept a mention and you want to know why. It is made from the judges themselves. A rename
asks them about each mention of the old name, in this order, and the first that answers decides; \`--format json\` names it as \`judge\`. In the examples « » stand around the place, and \`albar\` becomes
\`cumbre-sur\` where no other names are given.

| | judge | what | group of \`--include\` |
|---|---|---|---|
`;
  const rows = JUDGES.map(({ code, sentence, group }, i) => `| ${i + 1} | [${code}](#${code}) | ${shown(sentence)} | ${group ?? ''} |\n`);
  return [head, ...rows, '\n', JUDGES.map(section).join('\n')].join('');
}

function shown(sentence: string): string {
  return sentence
    .replace(/,? ?“\{about\}”/, '')
    .replace(' {about}', ' another')
    .replace(/:$/, '');
}

function section({ code, sentence, examples }: Judge): string {
  return `## ${code}\n\n${capital(shown(sentence))}.\n\n${examples.map(exampleText).join('\n')}`;
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

function exampleText({ file, text, becomes, names }: Example): string {
  const about = names === undefined ? '' : ` (${names})`;
  return `\`${file}\`${about}${becomes === undefined ? ', stays' : ''}:\n\n\`\`\`text\n${block(text)}${becomes === undefined ? '' : `→\n${block(becomes)}`}\`\`\`\n`;
}

function block(text: string): string {
  return text.endsWith('\n') ? text : `${text}\n`;
}
