import { Ajv2020 } from 'ajv/dist/2020.js';
import { expect, it } from 'vitest';
import { COMMANDS } from '../../src/cli/command-table.ts';
import { COMMAND_ROWS, prepare } from '../support/command-rows.ts';
import { schemaOf, shapeOf, textOf, together, type JsonShape } from '../support/json-shape.ts';
import { Workplace } from '../support/program.ts';

/** What a command prints that is not made of JSON, in any format. */
const TEXTS = new Set(['completion']);

/** A command with its action: what its output depends on. */
async function nameOf(line: string): Promise<string> {
  const [command = '', action = ''] = line.split(' ');
  const { default: facts } = (await COMMANDS.find(({ name }) => name === command)?.load()) ?? {};
  return facts?.actions !== undefined && Object.hasOwn(facts.actions, action) ? `${command} ${action}` : command;
}

const HEAD = `# JSON output

This page is for you if you call Pionero from a program. With \`--format json\` a command prints one value on standard output; messages go to standard error. The page is
made from what the commands print on the sample data, and \`schemas/output.schema.json\` holds the same as JSON Schema.

A key with \`?\` is not always there, and \`*\` stands for any key. New keys can come with a new version; keys that are here keep their meaning.
\`check --format jsonl\` prints an entry of \`themes\` a line, and the sums in the last one.
`;

it('has its page and its schema (made by “vitest -u”), which every output fits', async () => {
  const shapes = new Map<string, JsonShape>();
  const outputs: [name: string, value: unknown][] = [];
  for (const row of COMMAND_ROWS.filter(({ line }) => !TEXTS.has(line.split(' ')[0] ?? ''))) {
    const place = new Workplace();
    await prepare(place, row);
    const { stdout, status } = await place.run(...row.line.split(' '), '--format', 'json');
    expect([row.line, status]).toEqual([row.line, row.status ?? 0]);
    const value: unknown = JSON.parse(stdout);
    const name = await nameOf(row.line);
    const seen = shapes.get(name);
    shapes.set(name, seen === undefined ? shapeOf(value) : together(seen, shapeOf(value)));
    outputs.push([name, value]);
  }
  const $defs = Object.fromEntries([...shapes].map(([name, shape]) => [name.replace(' ', '-'), schemaOf(shape)]));
  const schema = { $schema: 'https://json-schema.org/draft/2020-12/schema', title: 'Output of pionero --format json, by command', $defs };
  const sections = [...shapes].map(([name, shape]) => `## ${name}\n\n\`\`\`text\n${textOf(shape)}\n\`\`\`\n`);
  await expect([HEAD, ...sections].join('\n')).toMatchFileSnapshot('../../docs/json.md');
  await expect(`${JSON.stringify(schema, null, 2)}\n`).toMatchFileSnapshot('../../schemas/output.schema.json');
  const validator = new Ajv2020({ allowUnionTypes: true }).addSchema(schema, 'output');
  for (const [name, value] of outputs)
    expect([name, validator.validate(`output#/$defs/${name.replace(' ', '-')}`, value)]).toEqual([name, true]);
}, 120_000);
