import { readFileSync } from 'node:fs';
import { writeFiles, type Place } from './trees.ts';

/** What of the sites that docs/sites.md describes is elsewhere in a test. */
const ELSEWHERE: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  handbook: { 'folder: docs ': 'folder: site ', '[sphinx-build': '[/usr/bin/sphinx-build' },
  // A page that never ends is waited for, and costs all of that time.
  staging: { 'folder: sites/staging': 'folder: site', 'seconds: 20': 'seconds: 6' },
};

/** Describes a site as docs/sites.md does, for the folder `site` of a place. */
export function describeSite(place: Place, site: string): void {
  const page = readFileSync('docs/sites.md', 'utf8');
  const described = new RegExp(`\`\`\`yaml\n(sites:\n {2}${site}[^]*?)\`\`\``).exec(page)?.[1] ?? '';
  const ours = Object.entries(ELSEWHERE[site] ?? {}).reduce((text, [theirs, own]) => text.replace(theirs, own), described);
  writeFiles(place.folder, { 'pionero.yaml': ours });
}
