import { findConfiguration, type Configuration } from '../../core/configuration/configuration.ts';
import { problemAtPath } from '../../core/configuration/read-configuration.ts';
import { checkOptionsOf } from '../../core/rules/engine/check.ts';
import { ruleNamed } from '../../core/rules/engine/rule-named.ts';
import { loadOwnRules, rulesUnder } from '../../core/rules/engine/own-rules.ts';
import type { ExampleFiles, Rule, Severity } from '../../core/rules/rule.ts';
import { defineCommand, type Context } from '../command.ts';
import { agreedRules } from '../rule-agreement.ts';
import { ExitStatus } from '../exit-status.ts';
import { type Paint } from '../output/paint.ts';
import { join } from 'node:path';
import { count } from '../../core/text/sentence.ts';

export default defineCommand({
  arguments: [{ form: '[rule]', about: 'a rule’s name, as findings show it; default: a list of all rules' }],
  options: {},
  examples: ['pionero explain parent/styles', 'pionero explain'],
  async run(context, [wanted]) {
    const configuration = findConfiguration(context.io.folder);
    // No theme is named: what lies in a folder below may be one, and its neighbors' rules are loaded as for it.
    const below = join(context.io.folder, '*');
    await loadOwnRules(configuration, below, context.io.folder, await agreedRules(context, configuration, below));
    const rules = rulesUnder(configuration);
    if (wanted === undefined) return list(context, rules, configuration);
    return explain(context, ruleNamed(rules, wanted), configuration);
  },
});

/** The severity that a rule has here, and where that was set; undefined where it is the rule's own. */
interface Setting {
  readonly severity: Severity | 'off';
  readonly from: string | undefined;
}

function settingOf({ meta }: Rule, configuration: Configuration, context: Context): Setting {
  const layer = configuration.layers.find(({ rules }) => Object.hasOwn(rules, meta.id));
  const severity = checkOptionsOf(configuration).severities?.[meta.id] ?? meta.severity;
  if (layer === undefined) return { severity, from: undefined };
  const { line } = problemAtPath(layer.source, ['rules', meta.id], '');
  return { severity, from: `${context.shown(layer.file)}:${line}` };
}

/** Every rule, with its severity here and where that was set. */
function list(context: Context, rules: readonly Rule[], configuration: Configuration): ExitStatus {
  const { paint } = context;
  const rows = rules
    .map((rule) => ({ meta: rule.meta, ...settingOf(rule, configuration, context) }))
    .sort((a, b) => (a.meta.id < b.meta.id ? -1 : 1));
  const set = rows.filter(({ from }) => from !== undefined).length;
  context.say(`${paint.strong(count(rows.length, 'rule'))}${paint.faint(set === 0 ? '' : `, ${set} of them set here`)}\n`);
  const width = Math.max(...rows.map(({ meta }) => meta.id.length));
  const colours = { error: paint.bad, warning: paint.warn, note: paint.faint, off: paint.faint };
  for (const { meta, severity, from } of rows) {
    const where = from === undefined ? '' : `  ${paint.name(`(${from})`)}`;
    context.say(`  ${paint.strong(meta.id.padEnd(width))}  ${colours[severity](severity.padEnd(7))}  ${meta.summary}${where}`);
  }
  context.say(`\n${paint.name('→')} “pionero explain RULE” says why, with an example; docs/configuration.md says how a severity is set.`);
  context.result(
    rows.map(({ meta, severity, from }) => ({
      rule: meta.id,
      severity,
      default: meta.severity,
      from: from ?? null,
      summary: meta.summary,
    })),
  );
  return ExitStatus.ok;
}

function explain(context: Context, rule: Rule, configuration: Configuration): ExitStatus {
  const { id, summary, why, example, options = {} } = rule.meta;
  const { severity, from } = settingOf(rule, configuration, context);
  const { paint } = context;
  const where = from === undefined ? '' : `, set in ${from}`;
  context.say(`${paint.strong(id)} ${paint.faint(`(${severity}${where})`)}: ${summary}.\n\n${why}`);
  for (const [name, shape] of Object.entries(options))
    context.say(`\n${paint.name(`rules: { ${id}: { ${name}: … } }`)}  ${shape.description}`);
  if ('none' in example) context.say(`\n${paint.faint(`No example: ${example.none}.`)}`);
  else {
    context.say(`\n${paint.bad('Wrong')} ${paint.faint(`(on ${example.platform})`)}\n${filesText(example.wrong, paint)}`);
    context.say(`\n${paint.good('Right')}\n${filesText(example.right, paint)}`);
  }
  context.say(`\n${paint.name('→')} Set its severity in pionero.yaml: rules: { ${id}: error | warning | note | off }`);
  context.result({ rule: id, severity, from: from ?? null, summary, why, example });
  return ExitStatus.ok;
}

function filesText(files: ExampleFiles, paint: Paint): string {
  const blocks = Object.entries(files).map(([path, content]) => {
    const lines = content === null ? ['(not there)'] : content === '' ? ['(empty)'] : content.trimEnd().split('\n');
    return [`  ${paint.name(path)}`, ...lines.map((line) => `  ${paint.faint('│')} ${line}`)].join('\n');
  });
  return blocks.length === 0 ? '  (as a kit has it)' : blocks.join('\n');
}
