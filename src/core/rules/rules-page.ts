import { RULES } from './rules.ts';
import type { ExampleFiles, RuleMeta } from './rule.ts';

/** The page of all rules in Markdown, made from their metadata. */
export function rulesPage(): string {
  const sorted = RULES.map((rule) => rule.meta).sort((a, b) => (a.id < b.id ? -1 : 1));
  const head =
    '# Rules\n\nThis page is for you if a check found something and you want to know why it matters. It is made from the rules themselves. Set the severity of one in `pionero.yaml`: `rules: { image/size: off }`; the options of one that\nhas some together with it: `rules: { asset/unused: { severity: warning, ignore: ["extras/**"] } }`.\n';
  return [head, ...sorted.map(ruleSection)].join('\n');
}

function ruleSection({ id, severity, summary, why, example, options = {} }: RuleMeta): string {
  const lines = [`## ${id}`, '', `*${severity}* · ${summary}.`, '', why, ''];
  if ('none' in example) lines.push(`No example: ${example.none}.`, '');
  else lines.push('Wrong:', '', filesText(example.wrong), 'Right:', '', filesText(example.right));
  for (const [name, shape] of Object.entries(options))
    lines.splice(4, 0, `Option \`${name}\`: ${lowerFirst(shape.description ?? '')}.`, '');
  return lines.join('\n');
}

function lowerFirst(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}

function filesText(files: ExampleFiles): string {
  const blocks = Object.entries(files).map(([path, content]) =>
    content === null ? `(without ${path})` : content === '' ? `(${path}, empty)` : `\`\`\`\n# ${path}\n${content}\`\`\``,
  );
  return `${blocks.length === 0 ? '(with the file)' : blocks.join('\n\n')}\n`;
}
