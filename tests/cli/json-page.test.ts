import { Ajv2020 } from 'ajv/dist/2020.js';
import { cpSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import { isOneFile } from '../../src/core/theme/place.ts';
import { COMMANDS } from '../../src/cli/command-table.ts';
import { COMMAND_ROWS, prepare } from '../support/command-rows.ts';
import { schemaOf, shapeOf, textOf, together, type JsonShape } from '../support/json-shape.ts';
import { DEMO_SHELVES, Workplace } from '../support/program.ts';
import { kitFiles, writeFiles } from '../support/trees.ts';

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
made from what the commands print on the sample data and on a theme of each platform, and \`schemas/output.schema.json\` holds the same as JSON Schema.

A key with \`?\` is not always there, and \`*\` stands for any key. New keys can come with a new version; keys that are here keep their meaning.
\`check --format jsonl\` prints an entry of \`themes\` a line, and the sums in the last one.
`;

const SCHEMA = new URL('../../schemas/output.schema.json', import.meta.url);
const definitionOf = (name: string): string => name.replace(' ', '-');

/** What a command prints as JSON. @param status undefined: any */
async function printed(place: Workplace, line: string, status?: number): Promise<readonly [name: string, value: unknown]> {
  const outcome = await place.run(...line.split(' '), '--format', 'json');
  expect([line, status ?? outcome.status]).toEqual([line, outcome.status]);
  expect([line, outcome.stdout === '' ? outcome.stderr : '']).toEqual([line, '']);
  return [await nameOf(line), JSON.parse(outcome.stdout)];
}

it('has its page and its schema (made by “vitest --update”), from the sample data and a theme of each platform', async () => {
  const outputs: (readonly [name: string, value: unknown])[] = [];
  for (const row of COMMAND_ROWS.filter(({ line }) => !TEXTS.has(line.split(' ')[0] ?? ''))) {
    const place = new Workplace();
    await prepare(place, row);
    outputs.push(await printed(place, row.line, row.status ?? 0));
  }
  for (const platform of shippedPlatforms()) {
    const place = new Workplace();
    const files = kitFiles(platform, 'ladera');
    const home = isOneFile(platform) ? place.folder : place.path('Wardens/ladera');
    writeFiles(home, files);
    const theme = isOneFile(platform) ? (Object.keys(files)[0] ?? '') : 'Wardens/ladera';
    const lines = ['check', 'meta show', 'trace', 'rehearse', 'drift', 'pack --force --dry-run'].map((command) => `${command} ${theme}`);
    for (const line of [...lines, `clone ${theme} solana --dry-run`])
      outputs.push(await printed(place, `${line} --platform ${platform.contract.name}`));
  }
  const league = new Workplace();
  cpSync(join(import.meta.dirname, '../../demo/lineage/shelf'), league.path('shelf'), { recursive: true });
  for (const id of ['cierzo', 'neveron'])
    for (const command of ['trace', 'drift', 'meta show']) outputs.push(await printed(league, `${command} shelf/${id}`));
  const shapes = new Map<string, JsonShape>();
  for (const [name, value] of outputs) {
    const seen = shapes.get(name);
    shapes.set(name, seen === undefined ? shapeOf(value) : together(seen, shapeOf(value)));
  }
  const $defs = Object.fromEntries([...shapes].map(([name, shape]) => [definitionOf(name), schemaOf(shape)]));
  const schema = { $schema: 'https://json-schema.org/draft/2020-12/schema', title: 'Output of pionero --format json, by command', $defs };
  const sections = [...shapes].map(([name, shape]) => `## ${name}\n\n\`\`\`text\n${textOf(shape)}\n\`\`\`\n`);
  await expect([HEAD, ...sections].join('\n')).toMatchFileSnapshot('../../docs/json.md');
  await expect(`${JSON.stringify(schema, null, 2)}\n`).toMatchFileSnapshot('../../schemas/output.schema.json');
}, 120_000);

it('the schema fits what is printed of the demo themes, from which it was not made', async () => {
  const place = new Workplace();
  cpSync(DEMO_SHELVES, place.path('shelves'), { recursive: true });
  const validator = new Ajv2020({ allowUnionTypes: true }).addSchema(JSON.parse(readFileSync(SCHEMA, 'utf8')) as object, 'output');
  const found = (await printed(place, 'check shelves'))[1] as { themes: { folder: string }[] };
  expect(found.themes.length).toBe(7);
  const lines = found.themes.flatMap(({ folder }) =>
    ['check', 'meta show', 'trace', 'drift', 'pack --force --dry-run'].map((command) => `${command} ${folder}`),
  );
  for (const line of ['check shelves', ...lines]) {
    const [name, value] = await printed(place, line);
    const fits = validator.validate(`output#/$defs/${definitionOf(name)}`, value);
    expect([line, fits ? [] : validator.errors?.map(({ instancePath, message }) => `${instancePath} ${message}`)]).toEqual([line, []]);
  }
}, 120_000);
