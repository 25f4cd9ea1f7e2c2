import * as z from 'zod';
import type { Configuration, ConfigurationLayer } from '../../configuration/configuration.ts';
import { problemAtPath } from '../../configuration/read-configuration.ts';
import { ConfigurationError, type ConfigurationProblem } from '../../errors.ts';
import { nearest } from '../../text/nearest.ts';
import type { Rule, RuleMeta, Severity } from '../rule.ts';
import { didYouMean } from '../../text/sentence.ts';

/** What `pionero.yaml` says of rules. */
export interface RuleSettings {
  readonly severities: Readonly<Record<string, Severity | 'off'>>;
  /** By rule, its options. */
  readonly settings: Readonly<Record<string, Readonly<Record<string, unknown>>>>;
}

/** A rule's options as they are when nobody sets any. */
export function defaultsOf(meta: RuleMeta): Readonly<Record<string, unknown>> {
  return optionsOf(meta).defaults;
}

interface RuleOptions {
  readonly shapes: NonNullable<RuleMeta['options']>;
  readonly defaults: Readonly<Record<string, unknown>>;
}

const NO_OPTIONS: RuleOptions = { shapes: {}, defaults: Object.freeze({}) };

function optionsOf(meta: RuleMeta): RuleOptions {
  const known = made.get(meta);
  if (known !== undefined) return known;
  const { options: shapes } = meta;
  const options = shapes === undefined ? NO_OPTIONS : { shapes, defaults: Object.freeze(z.object(shapes).parse({})) };
  made.set(meta, options);
  return options;
}

/** Each check asks for those of every rule, and to make the schema takes longer than the rule. */
const made = new WeakMap<RuleMeta, RuleOptions>();

/** Reads what a configuration sets of rules. @param isAllKnown whether an id that no rule has is a mistake @throws ConfigurationError with every mistake's place */
export function ruleSettings(configuration: Configuration, rules: readonly Rule[], isAllKnown = true): RuleSettings {
  const severities: Record<string, Severity | 'off'> = {};
  const settings: Record<string, Readonly<Record<string, unknown>>> = {};
  // The outermost file speaks first, and the nearer ones refine it.
  for (const layer of configuration.layers.toReversed()) {
    const said = layerSettings(layer, rules, isAllKnown);
    Object.assign(severities, said.severities);
    for (const [id, own] of Object.entries(said.settings)) settings[id] = { ...settings[id], ...own };
  }
  for (const { meta } of rules) settings[meta.id] = { ...topLevel(configuration, meta), ...settings[meta.id] };
  return { severities, settings };
}

function layerSettings({ rules: given, file, source }: ConfigurationLayer, rules: readonly Rule[], isAllKnown: boolean): RuleSettings {
  const severities: Record<string, Severity | 'off'> = {};
  const settings: Record<string, Readonly<Record<string, unknown>>> = {};
  const problems: ConfigurationProblem[] = [];
  const tell = (path: readonly string[], message: string): void => void problems.push(problemAtPath(source, ['rules', ...path], message));
  const ids = rules.map(({ meta }) => meta.id);
  for (const [id, said] of Object.entries(given)) {
    const rule = rules.find(({ meta }) => meta.id === id);
    if (rule === undefined) {
      if (!isAllKnown) continue;
      const near = nearest(id, ids);
      tell([id], `there is no rule “${id}”; ${didYouMean(near, 'see docs/rules.md')}`);
      continue;
    }
    const { severity, ...own } = typeof said === 'string' ? { severity: said } : said;
    if (severity !== undefined) severities[id] = severity;
    const read = z.strictObject(optionsOf(rule.meta).shapes).safeParse(own);
    // Only options that stand there: the top of the file may hold the others.
    if (read.success) settings[id] = Object.fromEntries(Object.entries(read.data).filter(([name]) => Object.hasOwn(own, name)));
    else for (const issue of read.error.issues) tell([id, ...optionPath(issue)], optionProblem(issue, rule.meta));
  }
  if (problems.length > 0) throw new ConfigurationError({ what: `${file} is not a valid configuration file`, problems });
  return { severities, settings };
}

/** The settings of the files. A value at their top under the name of an option holds for every rule that has it. */
function topLevel(configuration: Configuration, meta: RuleMeta): Record<string, unknown> {
  const { shapes, defaults } = optionsOf(meta);
  const said = Object.entries(configuration).filter(([name, value]) => Object.hasOwn(shapes, name) && value !== undefined);
  return { ...defaults, ...Object.fromEntries(said) };
}

function optionPath(issue: z.core.$ZodIssue): string[] {
  return issue.code === 'unrecognized_keys' ? issue.keys.slice(0, 1) : issue.path.map(String);
}

function optionProblem(issue: z.core.$ZodIssue, meta: RuleMeta): string {
  if (issue.code !== 'unrecognized_keys') return `“${issue.path.join('.')}” is wrong: ${issue.message.replace(/^Invalid input: /, '')}`;
  const known = ['severity', ...Object.keys(optionsOf(meta).shapes)];
  const near = nearest(issue.keys[0] ?? '', known);
  return `${meta.id} has no option “${issue.keys[0]}”; ${didYouMean(near, `known: ${known.join(', ')}`)}`;
}
