// The notices of what is bundled: its licenses ask that their texts go along with every copy.
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import licenses from 'spdx-license-list/full.js';

/** The folders of the packages that a bundler took files of, from its metafile. */
export function packagesIn(metafile) {
  const folders = Object.keys(metafile.inputs).flatMap((path) => /^(?:.*:)?(.*node_modules\/(?:@[^/]+\/)?[^/]+)\//.exec(path)?.[1] ?? []);
  return [...new Set(folders)];
}

/** The text for people: each package with its version, its license and the text of that. @param folders of packages */
export function noticesOf(folders) {
  const parts = [...new Set(folders)].map(noticeOf).sort((a, b) => (a.name < b.name ? -1 : 1));
  const head = 'Pionero contains parts of the packages below, under their own licenses.\n';
  return [head, ...parts.map(({ text }) => text)].join(`\n${'-'.repeat(80)}\n\n`);
}

function noticeOf(folder) {
  const { name, version, license, author } = JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8'));
  const files = readdirSync(folder).filter((file) => /^(?:licen[cs]e|copying|notice)(?:[.-].*)?$/i.test(file));
  const texts = files.map((file) => readFileSync(join(folder, file), 'utf8').trim());
  // Some packages name a license and leave its text out.
  const usual = licenses[license]?.licenseText?.trim();
  const who = typeof author === 'string' ? author : author?.name;
  if (texts.length === 0 && usual !== undefined) texts.push(...(who === undefined ? [] : [`Copyright ${who}`]), usual);
  if (texts.length === 0) throw new Error(`${folder} has no text of its license, and ${license} is not an SPDX license`);
  return { name, text: `${name} ${version} (${license ?? 'see below'})\n\n${texts.join('\n\n')}\n` };
}

/** Packages whose files are copied as they are, and not bundled. */
export const COPIED = ['node_modules/axe-core', 'node_modules/spdx-license-list'].filter((folder) => existsSync(folder));
