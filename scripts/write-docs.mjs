// Writes the generated files: the pages of rules, judges, commands and messages, the JSON Schemas, the table of pionero.yaml, the
// picture of the rooms.
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { configurationJsonSchema, configurationTable, judgesPage, platformJsonSchema, RULES, rulesPage } from '../dist/core.js';
import { manPage } from '../dist/man-page.js';
import { commandsPage } from '../dist/commands-page.js';
import { picture } from './layers.mjs';
import { messagesPage } from './messages-page.mjs';

writeFileSync('docs/rules.md', rulesPage());
writeFileSync('docs/judges.md', judgesPage());
writeFileSync('docs/commands.md', await commandsPage());
writeFileSync('docs/messages.md', messagesPage(RULES, 'src'));
writeFileSync('platforms/platform.schema.json', `${JSON.stringify(platformJsonSchema(), null, 2)}\n`);
writeFileSync('schemas/pionero.schema.json', `${JSON.stringify(configurationJsonSchema(), null, 2)}\n`);
const configuration = readFileSync('docs/configuration.md', 'utf8');
const table = /(?<=<!-- keys -->\n\n)[^]*?(?=\n\n<!-- \/keys -->)/;
writeFileSync('docs/configuration.md', configuration.replace(table, configurationTable));
mkdirSync('man', { recursive: true });
const { version } = JSON.parse(readFileSync('package.json', 'utf8'));
writeFileSync('man/pionero.1', await manPage(version));
// The picture is the first fenced block of its section.
const [before, section = ''] = readFileSync('CONTRIBUTING.md', 'utf8').split(/(?<=## The rooms\n)/);
const [head, , ...rest] = section.split('```\n');
writeFileSync('CONTRIBUTING.md', before + [head, `${picture()}\n`, ...rest].join('```\n'));
