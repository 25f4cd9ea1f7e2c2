import { UsageError } from '../../core/errors.ts';
import type { Fact } from '../../core/theme/theme.ts';
import { keyPath } from '../../core/theme/theme.ts';
import { defineCommand } from '../command.ts';
import { ExitStatus } from '../exit-status.ts';
import { factsJson } from '../output/json.ts';
import { count } from '../output/paint.ts';
import { openArgument } from '../theme-argument.ts';

export default defineCommand({
  arguments: [
    { form: '<action>', about: 'show' },
    { form: '[theme]', about: 'a folder, or the id of a theme on a shelf; the current folder when left out' },
  ],
  options: {},
  examples: ['pionero meta show cierzo', 'pionero meta show cierzo --format json'],
  async run(context, args) {
    const [action, argument] = args;
    if (action !== 'show') throw new UsageError({ what: `meta has no action “${action}”`, hint: 'pionero meta show [theme]' });
    const { theme } = openArgument(argument, context.options);
    const rows = [
      { name: 'id', value: theme.names.id, where: 'the folder’s name' },
      ...theme.facts.map((fact) => ({ name: fact.name, value: shown(fact), where: placeOf(fact) })),
    ];
    const { paint } = context;
    const width = (key: 'name' | 'value'): number => Math.min(44, Math.max(...rows.map((row) => row[key].length)));
    context.say(`${paint.strong(theme.names.id)} ${paint.faint(`(${theme.platform.contract.title}): ${count(rows.length, 'fact')}`)}\n`);
    for (const row of rows)
      context.say(`  ${paint.name(row.name.padEnd(width('name')))}  ${row.value.padEnd(width('value'))}  ${paint.faint(row.where)}`);
    for (const document of theme.documents) {
      if (document.state !== 'read' || document.problems.length > 0)
        context.warn(
          `\n${paint.warn('▲')} ${document.title}: ${document.problems[0]?.message ?? document.state}; “pionero check” says more`,
        );
    }
    context.result({ theme: factsJson(theme), platform: theme.platform.contract.name, facts: theme.facts.map(factPlace) });
    return ExitStatus.ok;
  },
});

function shown({ value }: Fact): string {
  if (value === undefined) return '(not known without running code)';
  if (typeof value === 'string') return value;
  return Array.isArray(value)
    ? value.join(', ')
    : Object.entries(value)
        .map(([key, part]) => `${key}: ${part}`)
        .join(', ');
}

function placeOf(fact: Fact): string {
  const { file, line, column } = factPlace(fact);
  return `${file}:${line}:${column}`;
}

function factPlace(fact: Fact): { fact: string; key: string; value: unknown; file: string; line: number; column: number } {
  const position = fact.document.source?.positionAt(fact.node.start) ?? { line: 1, column: 1 };
  return { fact: fact.name, key: keyPath(fact.field).join('.'), value: fact.value ?? null, file: fact.document.path, ...position };
}
