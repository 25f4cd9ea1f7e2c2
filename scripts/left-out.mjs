// Prints the test files of which a run left tests out, by Vitest's report in JSON: `node scripts/left-out.mjs REPORT`.
import { readFileSync } from 'node:fs';
import { relative } from 'node:path';

const { testResults } = JSON.parse(readFileSync(process.argv[2], 'utf8'));
const isLeftOut = ({ status }) => status !== 'passed' && status !== 'failed';
const files = testResults.filter(({ assertionResults }) => assertionResults.some(isLeftOut)).map(({ name }) => relative('.', name));
console.log(files.sort().join('\n'));
