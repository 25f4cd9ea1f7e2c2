import { readFileSync } from 'node:fs';
import { writeFiles, type Place } from './trees.ts';

/** What of the sites that docs/sites.md describes is elsewhere in a test. */
const ELSEWHERE: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  handbook: { 'folder: docs ': 'folder: site ' },
  inbox: { 'folder: sites/inbox': 'folder: site' },
  // A page that never ends is waited for, and costs all of that time.
  staging: { 'folder: sites/staging': 'folder: site', 'seconds: 20': 'seconds: 6' },
};

/** Where programs are that belong to Debian's packages; another one of that name can stand first on the path. */
const PROGRAMS: Readonly<Record<string, string>> = { 'sphinx-build': '/usr/bin/sphinx-build', mkdocs: '/usr/bin/mkdocs' };

/** Describes a site as docs/sites.md does, for the folder `site` of a place, with programs that its commands are started by. */
export function describeSite(place: Place, site: string, programs: Readonly<Record<string, string>> = PROGRAMS): void {
  const page = readFileSync('docs/sites.md', 'utf8');
  const described = new RegExp(`\`\`\`yaml\n(sites:\n {2}${site}[^]*?)\`\`\``).exec(page)?.[1] ?? '';
  const local = Object.entries(ELSEWHERE[site] ?? {}).reduce((text, [theirs, own]) => text.replace(theirs, own), described);
  const ours = Object.entries(programs).reduce(
    (text, [name, path]) => text.replace(`, ${name}, `, `, ${path}, `).replace(`[${name},`, `[${path},`),
    local,
  );
  writeFiles(place.folder, { 'pionero.yaml': ours });
}
