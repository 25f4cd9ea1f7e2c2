import * as z from 'zod';
import { ConfigurationSchema } from '../../configuration/schema.ts';
import type { RuleMeta } from '../rule.ts';
import { RULES } from '../rules.ts';

const SEVERITIES = ['error', 'warning', 'note', 'off'];

/** The settings of a rule in `pionero.yaml`. */
function ruleSchema({ summary, options = {} }: RuleMeta): Record<string, unknown> {
  const own = z.toJSONSchema(z.object(options), { io: 'input' }).properties ?? {};
  return {
    description: `${summary}.`,
    anyOf: [{ enum: SEVERITIES }, { type: 'object', properties: { severity: { enum: SEVERITIES }, ...own }, additionalProperties: false }],
  };
}

/** The language of `pionero.yaml` as a JSON Schema (draft 2020-12), for editors that complete and check YAML. */
export function configurationJsonSchema(): Record<string, unknown> {
  const schema = z.toJSONSchema(ConfigurationSchema, { io: 'input' });
  const rules = {
    ...(schema.properties?.['rules'] as object),
    // A user's own rule has an id that nobody knows here.
    properties: Object.fromEntries(RULES.map(({ meta }) => [meta.id, ruleSchema(meta)])),
  };
  return { ...schema, properties: { ...schema.properties, rules }, title: 'Pionero configuration, pionero.yaml' };
}

/** The keys of `pionero.yaml` in Markdown, a row each, made from the schema. */
export function configurationTable(): string {
  const rows = Object.entries(ConfigurationSchema.shape).flatMap(([key, schema]) => [
    rowOf(key, schema),
    ...Object.entries(shapeOf(schema)).map(([inner, own]) => rowOf(`${key}.${inner}`, own)),
  ]);
  return ['| key | what it says | form |', '|---|---|---|', ...rows].join('\n');
}

function rowOf(key: string, schema: z.ZodType): string {
  return `| \`${key}\` | ${schema.description ?? ''} | ${formOf(z.toJSONSchema(schema, { io: 'input' }))} |`;
}

/** The keys of a map inside; empty for a value that is not a map. */
function shapeOf(schema: z.ZodType): Record<string, z.ZodType> {
  const inner = schema instanceof z.ZodDefault || schema instanceof z.ZodOptional ? schema.unwrap() : schema;
  return inner instanceof z.ZodObject ? inner.shape : {};
}

function formOf({ type, items, additionalProperties }: z.core.JSONSchema.BaseSchema): string {
  if (type === 'array') return typeof items === 'object' && 'properties' in items ? 'a list of maps' : 'a list of texts';
  if (type === 'object') return typeof additionalProperties === 'object' ? 'a map' : 'its keys below';
  return 'a text';
}
