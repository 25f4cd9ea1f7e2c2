// Writes what is generated: the page of rules, and the JSON Schema of platform files.
import { writeFileSync } from 'node:fs';
import { platformJsonSchema, rulesPage } from '../dist/core.js';

writeFileSync('docs/rules.md', rulesPage());
writeFileSync('platforms/platform.schema.json', `${JSON.stringify(platformJsonSchema(), null, 2)}\n`);
