// Does the set-up of a fresh clone: installs the packages when they are missing or old, and builds the program.
import { execSync } from 'node:child_process';
import { statSync } from 'node:fs';

const age = (file) => statSync(file, { throwIfNoEntry: false })?.mtimeMs ?? 0;
if (age('node_modules/.package-lock.json') < age('package-lock.json')) {
  console.error('Installing packages …');
  // Not `npm ci`: it refuses a lock file without the binaries of systems that the registry at hand does not carry.
  execSync('npm install --no-audit --no-fund --loglevel=error', { stdio: ['ignore', 'ignore', 'inherit'] });
} else {
  await import('./build.mjs');
}
