// Writes what is generated: the page of rules, the JSON Schema of platform files, the picture of the rooms.
import { readFileSync, writeFileSync } from 'node:fs';
import { platformJsonSchema, rulesPage } from '../dist/core.js';
import { picture } from './layers.mjs';

writeFileSync('docs/rules.md', rulesPage());
writeFileSync('platforms/platform.schema.json', `${JSON.stringify(platformJsonSchema(), null, 2)}\n`);
// The picture is the first fenced block of its section.
const [before, section = ''] = readFileSync('CONTRIBUTING.md', 'utf8').split(/(?<=## The rooms\n)/);
const [head, , ...rest] = section.split('```\n');
writeFileSync('CONTRIBUTING.md', before + [head, `${picture()}\n`, ...rest].join('```\n'));
