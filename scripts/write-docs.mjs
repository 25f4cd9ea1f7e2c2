// Writes what is generated into docs/: the page of rules, and the JSON Schema of platform files.
import { writeFileSync } from 'node:fs';
import { rulesPage } from '../dist/core.js';

writeFileSync('docs/rules.md', rulesPage());
