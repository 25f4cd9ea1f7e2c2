import { RULES } from './rules.ts';
import type { ExampleFiles, RuleMeta } from './rule.ts';

/** The page of all rules in Markdown, made from their metadata. */
export function rulesPage(): string {
  const sorted = RULES.map((rule) => rule.meta).sort((a, b) => (a.id < b.id ? -1 : 1));
  const head = '# Rules\n\nMade from the rules themselves. Set the severity of one in `pionero.yaml`: `rules: { image/size: off }`.\n';
  return [head, ...sorted.map(ruleSection)].join('\n');
}

function ruleSection({ id, severity, summary, why, example }: RuleMeta): string {
  const lines = [`## ${id}`, '', `*${severity}* · ${summary}.`, '', why, ''];
  if (example !== undefined) lines.push('Wrong:', '', filesText(example.wrong), 'Right:', '', filesText(example.right));
  return lines.join('\n');
}

function filesText(files: ExampleFiles): string {
  const blocks = Object.entries(files).map(([path, content]) =>
    content === null ? `(without ${path})` : content === '' ? `(${path}, empty)` : `\`\`\`\n# ${path}\n${content}\`\`\``,
  );
  return `${blocks.length === 0 ? '(with the file)' : blocks.join('\n\n')}\n`;
}
