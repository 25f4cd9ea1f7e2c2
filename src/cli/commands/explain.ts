import { UsageError } from '../../core/errors.ts';
import type { ExampleFiles } from '../../core/rules/rule.ts';
import { RULES } from '../../core/rules/rules.ts';
import { nearest } from '../../core/text/nearest.ts';
import { defineCommand } from '../command.ts';
import { ExitStatus } from '../exit-status.ts';
import type { Paint } from '../output/paint.ts';

export default defineCommand({
  arguments: [{ form: '<rule>', about: 'a rule’s name, as findings show it' }],
  options: {},
  examples: ['pionero explain parent/styles'],
  async run(context, [wanted = '']) {
    const rule = RULES.find(({ meta }) => meta.id === wanted);
    if (rule === undefined) {
      const ids = RULES.map(({ meta }) => meta.id).sort();
      const near = nearest(wanted, ids);
      throw new UsageError({
        what: `there is no rule “${wanted}”`,
        hint: near === undefined ? `there are ${ids.join(', ')}` : `did you mean “${near}”?`,
      });
    }
    const { id, severity, summary, why, example, options = {} } = rule.meta;
    const { paint } = context;
    context.say(`${paint.strong(id)} ${paint.faint(`(${severity})`)}: ${summary}.\n\n${why}`);
    for (const [name, shape] of Object.entries(options))
      context.say(`\n${paint.name(`rules: { ${id}: { ${name}: … } }`)}  ${shape.description}`);
    if ('none' in example) context.say(`\n${paint.faint(`No example: ${example.none}.`)}`);
    else {
      context.say(`\n${paint.bad('Wrong')} ${paint.faint(`(on ${example.platform})`)}\n${filesText(example.wrong, paint)}`);
      context.say(`\n${paint.good('Right')}\n${filesText(example.right, paint)}`);
    }
    context.say(`\n${paint.name('→')} Set its severity in pionero.yaml: rules: { ${id}: error | warning | note | off }`);
    context.result({ rule: id, severity, summary, why, example });
    return ExitStatus.ok;
  },
});

function filesText(files: ExampleFiles, paint: Paint): string {
  const blocks = Object.entries(files).map(([path, content]) => {
    const lines = content === null ? ['(not there)'] : content === '' ? ['(empty)'] : content.trimEnd().split('\n');
    return [`  ${paint.name(path)}`, ...lines.map((line) => `  ${paint.faint('│')} ${line}`)].join('\n');
  });
  return blocks.length === 0 ? '  (as a kit has it)' : blocks.join('\n');
}
